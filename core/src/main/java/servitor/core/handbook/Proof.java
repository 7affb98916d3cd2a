package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.List;

/** How well it is known that a case's requester is who they say: a name on a message proves nothing. */
public enum Proof {
    /** They were signed in when they asked. */
    SIGNED_IN,
    /** They proved it afterwards. */
    VERIFIED,
    /** Somebody says so. */
    CLAIMED;

    @JsonValue
    public String word() {
        return Words.of(this);
    }

    /** The proof that is written {@code word}; an unknown word proves nothing. */
    public static Proof of(String word) {
        return Words.find(Proof.class, word).orElse(CLAIMED);
    }

    /** The one that proves less of what is written {@code one} and {@code other}; an unknown word proves nothing. */
    public static Proof weaker(String one, String other) {
        Proof first = of(one);
        Proof second = of(other);
        return first.compareTo(second) >= 0 ? first : second;
    }

    /** All of them, the strongest first. */
    public static List<String> words() {
        return Words.all(Proof.class);
    }

    /** Whether calls may rest on it. An unknown word proves nothing. */
    public static boolean holds(String word) {
        return of(word) != CLAIMED;
    }
}
