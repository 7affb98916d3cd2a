/** Where a value came from. */
@org.jspecify.annotations.NullMarked
package servitor.core.origin;
