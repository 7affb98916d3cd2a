/** The HTTP API. */
@org.jspecify.annotations.NullMarked
package servitor.service.api;
