/** Tools behind an HTTP API. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.http;
