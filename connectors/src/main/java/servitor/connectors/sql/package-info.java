/** Queries that only read. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.sql;
