/** What a value looks like: the types that kinds, tools, answers and pages declare, and that conditions are checked against. */
@org.jspecify.annotations.NullMarked
package servitor.core.shape;
