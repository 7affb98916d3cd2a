package servitor.service.people;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** What a person may be. Desks say where. */
public enum Role {
    /** Asks; sees their own cases. */
    REQUESTER,
    /** Works cases of their desks beside the agents. */
    RESOLVER,
    /** Answers for decisions of their groups and desks. */
    APPROVER,
    /** Writes and publishes handbooks. */
    ENGINEER,
    /** Checks afterwards what was done and why. */
    AUDITOR,
    /** Looks after people and connections. */
    ADMIN;

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    @JsonCreator
    public static Role of(String word) {
        try {
            return valueOf(word.toUpperCase(Locale.ROOT));
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException(
                    "‘" + word
                            + "’ is not a role. Roles are requester, resolver, approver, engineer, auditor and admin.",
                    e);
        }
    }
}
