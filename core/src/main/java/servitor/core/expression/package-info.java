/** Conditions and templates in CEL, the Common Expression Language (cel.dev). */
@org.jspecify.annotations.NullMarked
package servitor.core.expression;
