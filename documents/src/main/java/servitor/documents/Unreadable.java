package servitor.documents;

import servitor.core.document.ReadOutcome;

/** Nothing can be read of a document. */
final class Unreadable extends Exception {
    private static final long serialVersionUID = 1L;

    private final ReadOutcome outcome;

    Unreadable(ReadOutcome outcome, String detail) {
        super(detail);
        this.outcome = outcome;
    }

    ReadOutcome outcome() {
        return outcome;
    }
}
