/** Tools of a server that speaks the Model Context Protocol. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.mcp;
