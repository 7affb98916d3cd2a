/** Pages in plain words and as drawings, from the parsed page alone. */
@org.jspecify.annotations.NullMarked
package servitor.core.explain;
