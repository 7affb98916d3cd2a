/**
 * Reads documents: in a process of its own ({@link servitor.documents.Worker}), because a file that nobody has seen may take any memory and
 * time there is; {@link servitor.documents.Sandbox} starts it without network, files and environment.
 */
@NullMarked
package servitor.documents;

import org.jspecify.annotations.NullMarked;
