package servitor.service.intake;

import servitor.core.handbook.Words;

/** What a mail became of the case it is about. */
public enum Became {
    /** It opened the case. */
    CASE,
    /** Whoever asked wrote again. */
    REPLY,
    /** Somebody of the desk, or whom staff have named, wrote. */
    NOTE,
    /** Somebody whom nobody has named wrote. */
    STRANGER,
    /** Somebody answered what an approval asked them by mail. */
    ANSWER,
    /** A mail server says that a mail about the case didn't arrive. */
    REPORT;

    String word() {
        return Words.of(this);
    }
}
