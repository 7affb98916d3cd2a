package servitor.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Clock;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.trail.TrailWord;
import servitor.service.ProblemAnswer;
import servitor.service.editions.Editions;
import servitor.service.people.NotAllowed;
import servitor.service.people.People;
import servitor.service.people.Person;
import servitor.service.people.Role;
import servitor.service.people.SignedIn;

/** Signing in and out, and who one is. */
@RestController
@RequestMapping("/api/session")
class SessionController {
    private final People people;
    private final Editions editions;
    private final SecurityContextRepository contexts;
    private final Clock clock;
    private final SignInTries tries;

    SessionController(People people, Editions editions, SecurityContextRepository contexts, Clock clock) {
        this.people = people;
        this.editions = editions;
        this.contexts = contexts;
        this.clock = clock;
        this.tries = new SignInTries(clock);
    }

    record SignIn(String person, String password) {}

    /** Who is signed in: null for nobody. */
    record Session(
            @Nullable String id,
            @Nullable String name,
            Set<Role> roles,
            Set<String> desks,
            Set<String> groups,
            Map<String, String> deskTitles) {}

    @GetMapping
    Session current() {
        return SecurityContextHolder.getContext().getAuthentication() instanceof SignedIn signedIn
                ? people.bySession(signedIn.getPrincipal(), signedIn.since())
                        .map(this::session)
                        .orElse(nobody())
                : nobody();
    }

    @PostMapping
    ResponseEntity<?> signIn(@RequestBody SignIn body, HttpServletRequest request, HttpServletResponse response) {
        if (isNoName(body.person(), 100) || isNoName(body.password(), 1_000)) {
            throw new IllegalArgumentException("‘person’ and ‘password’ are both needed, and neither is that long.");
        }
        String from = request.getRemoteAddr();
        SignInTries.Answer tried = tries.begin(body.person(), from);
        if (tried != SignInTries.Answer.TRY) {
            if (tried == SignInTries.Answer.LOCKED_NOW) {
                people.note(TrailWord.LOCKED_OUT, body.person(), from);
            }
            return ResponseEntity.status(HttpStatus.TOO_MANY_REQUESTS)
                    .body(Problems.problem(
                            HttpStatus.TOO_MANY_REQUESTS, "Too many tries", "Wait a minute, then try again."));
        }
        return people.signIn(body.person(), body.password())
                .<ResponseEntity<?>>map(person -> {
                    tries.succeeded(body.person(), from);
                    people.note(TrailWord.SIGNED_IN, person.id(), from);
                    return ResponseEntity.ok(begin(person, request, response));
                })
                .orElseGet(() -> {
                    people.note(TrailWord.SIGN_IN_REFUSED, body.person(), from);
                    return ResponseEntity.status(HttpStatus.UNAUTHORIZED)
                            .header(HttpHeaders.WWW_AUTHENTICATE, ProblemAnswer.BEARER)
                            .body(Problems.problem(
                                    HttpStatus.UNAUTHORIZED, "Not signed in", "Name and password don't go together."));
                });
    }

    record NewPassword(String current, String wanted) {}

    /** Changes one's own password: every other session ends, and this one goes on. */
    @PostMapping("/password")
    Session changePassword(
            Person person, @RequestBody NewPassword body, HttpServletRequest request, HttpServletResponse response) {
        if (isNoName(body.current(), 1_000) || isNoName(body.wanted(), 1_000)) {
            throw new IllegalArgumentException("‘current’ and ‘wanted’ are both needed, and neither is that long.");
        }
        SignInTries.Answer tried = tries.begin(person.id(), request.getRemoteAddr());
        if (tried != SignInTries.Answer.TRY || !people.changePassword(person.id(), body.current(), body.wanted())) {
            throw new NotAllowed("The current password is another one. Nothing was changed.");
        }
        tries.succeeded(person.id(), request.getRemoteAddr());
        return request.getSession(false) == null ? session(person) : begin(person, request, response);
    }

    private static boolean isNoName(@Nullable String text, int longest) {
        return text == null || text.isEmpty() || text.length() > longest;
    }

    private Session begin(Person person, HttpServletRequest request, HttpServletResponse response) {
        if (request.getSession(false) != null) {
            request.changeSessionId(); // a session that somebody else prepared must not become this person's
        }
        SecurityContext context = SecurityContextHolder.createEmptyContext();
        context.setAuthentication(new SignedIn(person.id(), clock.instant()));
        SecurityContextHolder.setContext(context);
        contexts.saveContext(context, request, response);
        return session(person);
    }

    @DeleteMapping
    Session signOut(HttpServletRequest request) {
        if (request.getSession(false) != null) {
            request.getSession(false).invalidate();
        }
        SecurityContextHolder.clearContext();
        return nobody();
    }

    private Session session(Person person) {
        Map<String, String> titles = new TreeMap<>();
        editions.current()
                .ifPresent(edition ->
                        edition.handbook().desks().values().forEach(desk -> titles.put(desk.name(), desk.title())));
        return new Session(person.id(), person.name(), person.roles(), person.desks(), person.groups(), titles);
    }

    private static Session nobody() {
        return new Session(null, null, Set.of(), Set.of(), Set.of(), Map.of());
    }
}
