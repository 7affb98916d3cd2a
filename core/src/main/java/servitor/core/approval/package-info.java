/** Questions to people, and the rules by which their answers count. */
@org.jspecify.annotations.NullMarked
package servitor.core.approval;
