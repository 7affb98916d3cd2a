package servitor.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.ProblemDetail;
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
import servitor.service.editions.Editions;
import servitor.service.people.People;
import servitor.service.people.Person;
import servitor.service.people.Role;
import servitor.service.people.SignedIn;

/** Signing in and out, and who one is. */
@RestController
@RequestMapping("/api/session")
class SessionController {
    private static final int TRIES = 8;
    private static final Duration PAUSE = Duration.ofMinutes(1);

    private final People people;
    private final Editions editions;
    private final SecurityContextRepository contexts;
    private final Clock clock;
    private final Map<String, Failures> failures = new ConcurrentHashMap<>();

    SessionController(People people, Editions editions, SecurityContextRepository contexts, Clock clock) {
        this.people = people;
        this.editions = editions;
        this.contexts = contexts;
        this.clock = clock;
    }

    record SignIn(String person, String password) {}

    record Failures(int count, Instant last) {}

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
                ? people.find(signedIn.getPrincipal()).map(this::session).orElse(nobody())
                : nobody();
    }

    @PostMapping
    ResponseEntity<?> signIn(@RequestBody SignIn body, HttpServletRequest request, HttpServletResponse response) {
        if (isNoName(body.person(), 100) || isNoName(body.password(), 1_000)) {
            throw new IllegalArgumentException("‘person’ and ‘password’ are both needed, and neither is that long.");
        }
        Failures before = failures.get(body.person());
        if (before != null
                && before.count() >= TRIES
                && before.last().plus(PAUSE).isAfter(clock.instant())) {
            return ResponseEntity.status(HttpStatus.TOO_MANY_REQUESTS)
                    .body(Problems.problem(
                            HttpStatus.TOO_MANY_REQUESTS, "Too many tries", "Wait a minute, then try again."));
        }
        return people.signIn(body.person(), body.password())
                .<ResponseEntity<?>>map(person -> {
                    failures.remove(body.person());
                    return ResponseEntity.ok(begin(person, request, response));
                })
                .orElseGet(() -> refused(body.person()));
    }

    private static boolean isNoName(@Nullable String text, int longest) {
        return text == null || text.isEmpty() || text.length() > longest;
    }

    private ResponseEntity<ProblemDetail> refused(String person) {
        if (failures.size() > 10_000) {
            failures.clear();
        }
        failures.merge(
                person,
                new Failures(1, clock.instant()),
                (old, one) ->
                        new Failures(old.last().plus(PAUSE).isBefore(one.last()) ? 1 : old.count() + 1, one.last()));
        return ResponseEntity.status(HttpStatus.UNAUTHORIZED)
                .body(Problems.problem(
                        HttpStatus.UNAUTHORIZED, "Not signed in", "Name and password don't go together."));
    }

    private Session begin(Person person, HttpServletRequest request, HttpServletResponse response) {
        if (request.getSession(false) != null) {
            request.changeSessionId(); // a session that somebody else prepared must not become this person's
        }
        SecurityContext context = SecurityContextHolder.createEmptyContext();
        context.setAuthentication(new SignedIn(person.id()));
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
