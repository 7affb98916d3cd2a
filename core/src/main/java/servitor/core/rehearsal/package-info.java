/** Plays rehearsals on the run machine, with a scripted world outside and books in memory. */
@NullMarked
package servitor.core.rehearsal;

import org.jspecify.annotations.NullMarked;
