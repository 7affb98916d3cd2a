package servitor.service.people;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.security.authentication.AbstractAuthenticationToken;

/** Somebody who proved who they are. Roles are looked up anew with every request, so taking one away works at once. */
public final class SignedIn extends AbstractAuthenticationToken {
    private final String person;
    private final Instant since;

    /** Somebody who proved it at {@code since}. */
    public SignedIn(String person, Instant since) {
        super(List.of());
        this.person = person;
        this.since = since;
        setAuthenticated(true);
    }

    /** When they proved it; a session that began before they were signed out has ended. */
    public Instant since() {
        return since;
    }

    @Override
    public Object getCredentials() {
        return "";
    }

    /** The id of the person. */
    @Override
    public String getPrincipal() {
        return person;
    }

    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof SignedIn that && that.person.equals(person);
    }

    @Override
    public int hashCode() {
        return person.hashCode();
    }
}
