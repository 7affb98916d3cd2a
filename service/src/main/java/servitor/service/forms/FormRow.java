package servitor.service.forms;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Words;

/**
 * What somebody has asked by a form.
 *
 * @param address the mail address they gave, in lower case
 * @param cameFrom what tells where the request came from from elsewhere, without saying it
 * @param asked the case they want, as JSON; empty once it is a case or forgotten
 * @param moved when its state was last another
 * @param detail why it is no further; may be empty
 * @param caseId the case it became; null for none
 */
public record FormRow(
        String id,
        String kind,
        String name,
        String address,
        String cameFrom,
        Instant received,
        String asked,
        String state,
        Instant moved,
        String detail,
        @Nullable String caseId) {
    /** How far it is. */
    public enum State {
        /** They are to be asked by mail whether it is theirs. */
        TO_ASK,
        ASKING,
        /** They were asked. */
        ASKED,
        /** It is a case, and they are to be told by mail how to follow it. */
        TO_TELL,
        TELLING,
        /** It is a case, and they were told. */
        TOLD,
        /** No mail goes to them any more. */
        LEFT,
        /** They didn't confirm it in time. */
        FORGOTTEN;

        public String word() {
            return Words.of(this);
        }

        /** Whether this is the state that is written {@code word}. */
        boolean is(String word) {
            return word().equals(word);
        }
    }

    /** Whether it waits for them to confirm it. */
    public boolean isOpen() {
        return State.TO_ASK.is(state) || State.ASKING.is(state) || State.ASKED.is(state);
    }
}
