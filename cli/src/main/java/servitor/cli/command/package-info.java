/** One class per command. */
@org.jspecify.annotations.NullMarked
package servitor.cli.command;
