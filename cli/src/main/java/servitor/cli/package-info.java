/** The command line: a shell around the API, and around the core for what works on files alone. */
@org.jspecify.annotations.NullMarked
package servitor.cli;
