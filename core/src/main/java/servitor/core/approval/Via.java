package servitor.core.approval;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** By which way somebody saw an approval, or answered it. */
public enum Via {
    CONSOLE,
    COMMAND_LINE,
    API,
    /** A link in a mail, without signing in. */
    LINK,
    /** A mail that answers the one that asked. */
    MAIL;

    /** The way of this word; rows of earlier versions have none, and were answered by people who had signed in. */
    @JsonCreator
    public static Via of(String word) {
        return word.isEmpty() ? API : valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Whether nothing but what was mailed to them says who it is. */
    public boolean isByMail() {
        return this == LINK || this == MAIL;
    }
}
