package servitor.service.people;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Optional;
import org.springframework.http.HttpHeaders;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import servitor.service.ProblemAnswer;

/**
 * Takes a bearer token (RFC 6750) for who it belongs to. A token that isn't good is refused at once, whatever session
 * comes with it: requests with a token are spared CSRF protection, so a session must never stand in for a bad token.
 */
@Component
class TokenFilter extends OncePerRequestFilter {
    private final People people;

    TokenFilter(People people) {
        this.people = people;
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        String header = request.getHeader(HttpHeaders.AUTHORIZATION);
        if (header == null) {
            chain.doFilter(request, response);
            return;
        }
        Optional<Person> person = header.regionMatches(true, 0, "Bearer ", 0, 7)
                ? people.byToken(header.substring(7).strip())
                : Optional.empty();
        if (person.isEmpty()) {
            response.setHeader(HttpHeaders.WWW_AUTHENTICATE, "Bearer");
            ProblemAnswer.write(
                    response, 401, "Token refused", "The token is unknown or has run out. Ask an admin for a new one.");
            return;
        }
        SecurityContextHolder.getContext()
                .setAuthentication(new SignedIn(person.get().id()));
        chain.doFilter(request, response);
    }
}
