/** What the engine works on, kept in the database. */
@org.jspecify.annotations.NullMarked
package servitor.service.engine;
