/** JSON values: one mapper, canonical bytes and digests. */
@org.jspecify.annotations.NullMarked
package servitor.core.json;
