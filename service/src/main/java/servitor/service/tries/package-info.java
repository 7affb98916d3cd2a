/** Pages tried out on a draft: played to what nobody has answered yet, answered, played on. Nothing of it touches a case. */
@NullMarked
package servitor.service.tries;

import org.jspecify.annotations.NullMarked;
