/** What every connector shares: what can come of reaching outside. */
@org.jspecify.annotations.NullMarked
package servitor.connectors;
