/** Requests over HTTP, and what is read of their answers. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.http;
