package servitor.service.people;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Clock;
import java.util.Optional;
import org.springframework.http.HttpHeaders;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import servitor.service.ProblemAnswer;

/**
 * Takes a bearer token (RFC 6750) for who it belongs to, and a session for its person's as long as it stands. A token that isn't
 * good is refused at once, whatever session comes with it: requests with a token are spared CSRF protection, so a session must
 * never stand in for a bad token.
 */
@Component
class TokenFilter extends OncePerRequestFilter {
    private static final String OWN_TOKENS = "/api/people/%s/tokens";

    private final People people;
    private final Clock clock;

    TokenFilter(People people, Clock clock) {
        this.people = people;
        this.clock = clock;
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        String header = request.getHeader(HttpHeaders.AUTHORIZATION);
        if (header == null) {
            endIfOver(request);
            chain.doFilter(request, response);
            return;
        }
        Optional<People.Bearer> bearer = header.regionMatches(true, 0, "Bearer ", 0, 7)
                ? people.byToken(header.substring(7).strip())
                : Optional.empty();
        if (bearer.isEmpty()) {
            response.setHeader(HttpHeaders.WWW_AUTHENTICATE, "Bearer");
            ProblemAnswer.write(
                    response, 401, "Token refused", "The token is unknown or has run out. Ask an admin for a new one.");
            return;
        }
        Person person = bearer.get().person();
        if (bearer.get().first() && !makesOwnToken(request, person)) {
            ProblemAnswer.write(
                    response,
                    403,
                    "Not allowed",
                    "This token is good for making a token of one's own, once: servitor sign-in admin --token-file FILE.");
            return;
        }
        SecurityContextHolder.getContext().setAuthentication(new SignedIn(person.id(), clock.instant()));
        chain.doFilter(request, response);
    }

    private static boolean makesOwnToken(HttpServletRequest request, Person person) {
        return request.getMethod().equals("POST") && request.getRequestURI().equals(OWN_TOKENS.formatted(person.id()));
    }

    /** A session of somebody who was disabled, signed out or given another password opens nothing any more. */
    private void endIfOver(HttpServletRequest request) {
        if (SecurityContextHolder.getContext().getAuthentication() instanceof SignedIn signedIn
                && people.bySession(signedIn.getPrincipal(), signedIn.since()).isEmpty()) {
            SecurityContextHolder.clearContext();
            if (request.getSession(false) != null) {
                request.getSession(false).invalidate();
            }
        }
    }
}
