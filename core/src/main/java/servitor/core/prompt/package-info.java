/** The fixed layout of what a model is asked. */
@org.jspecify.annotations.NullMarked
package servitor.core.prompt;
