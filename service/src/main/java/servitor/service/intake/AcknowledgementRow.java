package servitor.service.intake;

import java.time.Instant;
import servitor.core.handbook.Words;

/** The acknowledgement of a case that came by mail; {@code at} is when its state was last another. */
public record AcknowledgementRow(
        String caseId, String intake, String requester, Instant at, String state, String detail) {
    /** How far it is. */
    public enum State {
        /** It is to be sent. */
        WAITING,
        /** It is being sent. */
        SENDING,
        SENT,
        /** It isn't known whether it went out; it isn't sent once more. */
        UNKNOWN,
        /** It wasn't sent, and won't be. */
        LEFT;

        public String word() {
            return Words.of(this);
        }
    }
}
