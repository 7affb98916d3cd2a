/** The handbook: the folder of plain files that configures everything, as records. */
@org.jspecify.annotations.NullMarked
package servitor.core.handbook;
