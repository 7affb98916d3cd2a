/** Programs on the service's own machine. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.command;
