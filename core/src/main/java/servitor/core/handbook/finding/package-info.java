/** What checking a handbook reports: findings, their kinds, and what would mend them. */
@org.jspecify.annotations.NullMarked
package servitor.core.handbook.finding;
