/** Reads OpenAPI 3.0 and 3.1 descriptions: operations, where each input goes and how it is written, and schemas that stand alone. */
@org.jspecify.annotations.NullMarked
package servitor.core.handbook.openapi;
