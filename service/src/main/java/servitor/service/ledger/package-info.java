/** The database: one mapper per table, and the one writer through which every change goes. */
@org.jspecify.annotations.NullMarked
package servitor.service.ledger;
