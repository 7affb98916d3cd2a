package servitor.service.intake;

import com.fasterxml.jackson.annotation.JsonValue;
import servitor.core.handbook.Words;

/**
 * What became of a message.
 *
 * @param caseId the case it is about; empty when it became none
 * @param why why it became none; empty when it became one
 */
public record Taken(Outcome outcome, String caseId, String why) {
    /** What a message can become. */
    public enum Outcome {
        /** A case of its own. */
        OPENED,
        /** Part of a case that was open. */
        JOINED,
        /** One more of what its case had been told just before. */
        COUNTED,
        /** Nothing: it had come before, and this is what became of it then. */
        KNOWN,
        /** Nothing: it isn't one that becomes a case. */
        LEFT_OUT,
        /** Nothing: it isn't what is declared, or can't become a case. */
        INVALID;

        @JsonValue
        public String word() {
            return Words.of(this);
        }
    }

    static Taken leftOut(String why) {
        return new Taken(Outcome.LEFT_OUT, "", why);
    }

    static Taken invalid(String why) {
        return new Taken(Outcome.INVALID, "", why);
    }
}
