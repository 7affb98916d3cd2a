/** The handbook: the folder of plain files that configures everything, parsed and checked. */
@org.jspecify.annotations.NullMarked
package servitor.core.handbook;
