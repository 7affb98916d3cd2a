/** What is read of documents: text by page, tables by sheet, or why there is none. */
@NullMarked
package servitor.core.document;

import org.jspecify.annotations.NullMarked;
