/** Dialogues with programs that have no API. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.terminal;
