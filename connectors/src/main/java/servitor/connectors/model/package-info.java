/** Models behind the chat-completions HTTP format. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.model;
