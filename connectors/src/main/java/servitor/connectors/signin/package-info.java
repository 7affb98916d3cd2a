/** Every way of signing in over HTTP. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.signin;
