/** What commands print. */
@org.jspecify.annotations.NullMarked
package servitor.cli.output;
