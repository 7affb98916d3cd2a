/** What goes out about cases: mails and messages to rooms, as they are composed. */
@NullMarked
package servitor.service.messages;

import org.jspecify.annotations.NullMarked;
