package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.List;
import java.util.stream.Stream;

/** The way something comes or goes out. */
public enum Channel {
    /** As a note on the case, by whoever is signed in; it is read there. */
    NOTE,
    MAIL,
    /** By a form that people fill in who can't sign in. */
    FORM,
    /** In a room of a chat server. */
    CHAT,
    /** A message of an outside system. */
    WEBHOOK,
    /** Lines of a log. */
    LINES,
    /** A time that had come. */
    SCHEDULE,
    /** The way the case came in. */
    SAME_WAY;

    /** The ways in which people can be told something. */
    public static final List<String> OUT =
            Stream.of(NOTE, MAIL, CHAT, SAME_WAY).map(Channel::word).toList();

    /** The ways in which what is said of a case comes. */
    public static final List<String> IN = Stream.of(NOTE, MAIL, FORM, WEBHOOK, LINES, SCHEDULE)
            .map(Channel::word)
            .toList();

    @JsonValue
    public String word() {
        return Words.of(this);
    }

    /** The channel that is written {@code word}; a word of another version is a note, which every version has. */
    public static Channel of(String word) {
        return Words.find(Channel.class, word).orElse(NOTE);
    }
}
