/** Where outside systems are, how they are signed in to, and what every protocol keeps to. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.access;
