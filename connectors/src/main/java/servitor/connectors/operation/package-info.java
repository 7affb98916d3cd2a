/** Operations of an OpenAPI description: how their inputs are written into a request. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.operation;
