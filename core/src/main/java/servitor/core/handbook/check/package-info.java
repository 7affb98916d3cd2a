/** Checks what no single file can say: that names, types and ways of a handbook fit together, a class for each rule. */
@org.jspecify.annotations.NullMarked
package servitor.core.handbook.check;
