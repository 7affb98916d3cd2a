package servitor.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;
import servitor.service.intake.Hooks;
import servitor.service.intake.Hooks.Posted;
import servitor.service.intake.Taken;
import servitor.service.people.NotAllowed;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import servitor.service.people.SignedIn;

/** Where outside systems post what has happened: plain JSON, or CloudEvents in each of their ways; signed, or with a token. */
@RestController
class HookController {
    static final String PATH = "/api/hooks/";
    private static final int MOST_BYTES = 1_000_000;

    private final Hooks hooks;
    private final PeopleReader people;

    HookController(Hooks hooks, PeopleReader people) {
        this.hooks = hooks;
        this.people = people;
    }

    /** What became of each message, in their order. */
    record Answer(List<Outcome> taken) {}

    /** {@code id} is the case it is about; {@code why} is why it became none. */
    record Outcome(
            Taken.Outcome outcome,
            @Nullable String id,
            @Nullable String why) {
        static Outcome of(Taken taken) {
            return new Outcome(taken.outcome(), named(taken.caseId()), named(taken.why()));
        }

        private static @Nullable String named(String text) {
            return text.isEmpty() ? null : text;
        }
    }

    @PostMapping(PATH + "{name}")
    ResponseEntity<?> take(
            HttpServletRequest request,
            @PathVariable String name,
            @RequestBody(required = false) byte @Nullable [] body)
            throws Hooks.Refused, Hooks.NotSetUp {
        byte[] bytes = body == null ? new byte[0] : body;
        if (bytes.length > MOST_BYTES) {
            return ResponseEntity.status(HttpStatus.CONTENT_TOO_LARGE)
                    .body(Problems.problem(
                            HttpStatus.CONTENT_TOO_LARGE,
                            "Too large",
                            "A message may have at most " + MOST_BYTES + " bytes."));
        }
        String type = request.getContentType() == null ? "" : request.getContentType();
        Posted posted = new Posted(type, request::getHeader, bytes);
        Optional<Person> person = person();
        List<Taken> taken = (person.isPresent()
                        ? hooks.take(person.get(), name, posted)
                        : hooks.takeSigned(name, posted))
                .orElseThrow(() -> new NotFound("intake for what systems post", name));
        return ResponseEntity.ok(new Answer(taken.stream().map(Outcome::of).toList()));
    }

    /** Who brings it with a token; empty for a system that signs. */
    private Optional<Person> person() {
        return SecurityContextHolder.getContext().getAuthentication() instanceof SignedIn signedIn
                ? Optional.of(people.find(signedIn.getPrincipal())
                        .filter(Person::enabled)
                        .orElseThrow(() -> new NotAllowed("There is no such person any more.")))
                : Optional.empty();
    }

    @ExceptionHandler
    ProblemDetail refused(Hooks.Refused e) {
        return Problems.problem(
                HttpStatus.UNAUTHORIZED,
                "Signature refused",
                "The message isn't from whom it has to be: " + e.getMessage()
                        + ". Sign it with the secret of the intake's connection.");
    }

    @ExceptionHandler
    ResponseEntity<ProblemDetail> notSetUp(Hooks.NotSetUp e) {
        return ResponseEntity.status(HttpStatus.SERVICE_UNAVAILABLE)
                .header("Retry-After", "60")
                .body(Problems.problem(
                        HttpStatus.SERVICE_UNAVAILABLE,
                        "Not now",
                        "Nothing was taken in: " + e.getMessage() + ". Send it again later."));
    }
}
