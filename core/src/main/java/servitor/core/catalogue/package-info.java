/** Ready pages with their agent, mandate and kind, to be adapted to a house. */
@org.jspecify.annotations.NullMarked
package servitor.core.catalogue;
