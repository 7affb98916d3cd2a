/** What outside systems send, read before anything is known of what becomes of it. */
@NullMarked
package servitor.core.intake;

import org.jspecify.annotations.NullMarked;
