package servitor.service.approvals;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Words;

/**
 * A mail to somebody about an approval.
 *
 * @param digest of what is asked, which an answer to the mail binds to
 * @param says what came of their answer; empty for a mail that asks
 * @param expires until when it may be answered
 * @param detail why it hasn't gone out; may be empty
 * @param used when it was answered by; null for not yet
 */
public record ApprovalMail(
        String id,
        String approvalId,
        String person,
        String digest,
        String says,
        Instant expires,
        String state,
        Instant moved,
        String detail,
        @Nullable Instant used) {
    /** What the keys of such mails begin with, by which answers to them are known. */
    public static final String KEY = "ask-";

    /** How far it is. */
    public enum State {
        TO_SEND,
        SENDING,
        SENT,
        /** It doesn't go out. */
        LEFT;

        public String word() {
            return Words.of(this);
        }
    }

    /** What its Message-ID is made of. */
    public String key() {
        return KEY + id;
    }

    public boolean asks() {
        return says.isEmpty();
    }
}
