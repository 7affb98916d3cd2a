package servitor.service.people;

import java.util.List;
import org.springframework.security.authentication.AbstractAuthenticationToken;

/** Somebody who proved who they are. Roles are looked up anew with every request, so taking one away works at once. */
public final class SignedIn extends AbstractAuthenticationToken {
    private final String person;

    public SignedIn(String person) {
        super(List.of());
        this.person = person;
        setAuthenticated(true);
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
    public boolean equals(Object other) {
        return other instanceof SignedIn that && that.person.equals(person);
    }

    @Override
    public int hashCode() {
        return person.hashCode();
    }
}
