package servitor.core.document;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** What came of reading a document: text, or a named reason why there is none. */
public enum ReadOutcome {
    TEXT("It was read."),
    EMPTY("There is nothing in it."),
    /** Such as a photo, or pages that were scanned. */
    NO_TEXT("There are pictures in it and no text."),
    ENCRYPTED("It opens with a password only."),
    CORRUPT("It is damaged, or cut off."),
    TOO_LARGE("There is more in it than is read."),
    TOOK_TOO_LONG("Reading it took too long."),
    NOT_SUPPORTED("Files of this type aren't read."),
    /** Said where a certain type is wanted: it was read, and is of another. */
    WRONG_TYPE("It is of another type than is wanted."),
    /** The program that reads isn't to be had at the moment. */
    NOT_READ("It wasn't read yet.");

    private final String words;

    ReadOutcome(String words) {
        this.words = words;
    }

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** The outcome in plain words. */
    public String words() {
        return words;
    }

    /** Whether it came from a limit of the reading and not from the file: another try may come to something else. */
    public boolean isOfALimit() {
        return this == TOO_LARGE || this == TOOK_TOO_LONG || this == NOT_READ;
    }

    @Override
    public String toString() {
        return word();
    }
}
