/** Forms for people who can't sign in: what they ask becomes a case once they have confirmed it by mail, which they follow by a link. */
@NullMarked
package servitor.service.forms;

import org.jspecify.annotations.NullMarked;
