package servitor.service.api;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import servitor.service.Precondition;
import servitor.service.api.Views.Named;
import servitor.service.editions.Editions;
import servitor.service.people.Access;
import servitor.service.people.Deputies;
import servitor.service.people.DeputyRow;
import servitor.service.people.NotAllowed;
import servitor.service.people.People;
import servitor.service.people.People.PersonDetails;
import servitor.service.people.Person;
import servitor.service.people.Role;

/** People and their tokens: an admin's work. */
@RestController
@RequestMapping("/api")
class PeopleController {
    private final People people;
    private final Deputies deputies;
    private final Editions editions;
    private final Clock clock;

    PeopleController(People people, Deputies deputies, Editions editions, Clock clock) {
        this.people = people;
        this.deputies = deputies;
        this.editions = editions;
        this.clock = clock;
    }

    record Details(
            @Nullable String name,
            @Nullable String email,
            @Nullable String account,
            @Nullable String manager,
            @Nullable String password,
            @Nullable Set<Role> roles,
            @Nullable Set<String> desks,
            @Nullable Set<String> groups,
            @Nullable Boolean enabled) {}

    record NewToken(String label) {}

    record Token(String person, String label, String token) {}

    @GetMapping("/people")
    List<Person> list(Person person) {
        Access.MANAGE_PEOPLE.require(person);
        return people.all();
    }

    @GetMapping("/people/{id}")
    ResponseEntity<Person> show(Person person, @PathVariable String id) {
        ownOrAdmin(person, id);
        return tagged(people.find(id).orElseThrow(() -> new NotFound("person", id)));
    }

    private static ResponseEntity<Person> tagged(Person shown) {
        return ResponseEntity.ok().eTag(Precondition.tag(shown)).body(shown);
    }

    @PutMapping("/people/{id}")
    ResponseEntity<Person> put(
            Person person, @PathVariable String id, @RequestBody Details details, Precondition precondition) {
        Access.MANAGE_PEOPLE.require(person);
        known(details);
        if (Boolean.FALSE.equals(details.enabled()) && id.equals(person.id())) {
            throw new NotAllowed("Nobody disables themselves; ask another admin.");
        }
        return tagged(people.put(
                new PersonDetails(
                        id,
                        details.name(),
                        details.email(),
                        details.account(),
                        details.manager(),
                        details.password(),
                        details.roles(),
                        details.desks(),
                        details.groups(),
                        details.enabled()),
                person.id(),
                precondition));
    }

    /** Desks and groups that the handbook declares, and a manager there is: a misspelt one would give nobody what was meant. */
    private void known(Details details) {
        editions.current().ifPresent(edition -> {
            known("desk", details.desks(), edition.handbook().desks().keySet());
            known("group", details.groups(), edition.handbook().groups().keySet());
        });
        if (details.manager() != null
                && !details.manager().isBlank()
                && people.find(details.manager()).isEmpty()) {
            throw new IllegalArgumentException(
                    "There is no person ‘" + details.manager() + "’ who could be the manager.");
        }
    }

    private static void known(String what, @Nullable Set<String> given, Set<String> there) {
        for (String name : given == null ? Set.<String>of() : new TreeSet<>(given)) {
            if (!there.contains(name)) {
                throw new IllegalArgumentException("There is no " + what + " ‘" + name + "’. There are: "
                        + String.join(", ", new TreeSet<>(there)) + ".");
            }
        }
    }

    /** Who answers for somebody who is away; {@code until} is needed. */
    record NewDeputy(
            String deputy,
            @Nullable Instant since,
            @Nullable Instant until) {}

    /** The deputy of a person, and who could be one. */
    record DeputyView(
            @Nullable Named deputy,
            @Nullable Instant since,
            @Nullable Instant until,
            boolean now,
            List<Named> couldBe,
            List<Named> standsInFor) {}

    @GetMapping("/people/{id}/deputy")
    DeputyView deputy(Person person, @PathVariable String id) {
        ownOrAdmin(person, id);
        Person away = people.find(id).orElseThrow(() -> new NotFound("person", id));
        Optional<DeputyRow> row = deputies.of(id);
        return new DeputyView(
                row.map(one -> named(one.deputy())).orElse(null),
                row.map(DeputyRow::since).orElse(null),
                row.map(DeputyRow::until).orElse(null),
                row.filter(one -> one.isNow(clock.instant())).isPresent(),
                deputies.couldBe(away).stream()
                        .map(one -> new Named(one.id(), one.name()))
                        .toList(),
                away.standsInFor().stream().sorted().map(this::named).toList());
    }

    private Named named(String id) {
        return new Named(id, people.nameOf(id));
    }

    @PutMapping("/people/{id}/deputy")
    DeputyView setDeputy(Person person, @PathVariable String id, @RequestBody NewDeputy body) {
        ownOrAdmin(person, id);
        Person away = people.find(id).orElseThrow(() -> new NotFound("person", id));
        if (body.deputy() == null) {
            throw new IllegalArgumentException("‘deputy’ is missing: say who answers.");
        }
        deputies.set(away, body.deputy(), body.since(), body.until(), person.id());
        return deputy(person, id);
    }

    @DeleteMapping("/people/{id}/deputy")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void endDeputy(Person person, @PathVariable String id) {
        ownOrAdmin(person, id);
        if (!deputies.end(id, person.id())) {
            throw new NotFound("deputy of", id);
        }
    }

    /** Ends all sessions of a person, or one's own. */
    @DeleteMapping("/people/{id}/sessions")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void endSessions(Person person, @PathVariable String id) {
        ownOrAdmin(person, id);
        people.endSessions(id, person.id());
    }

    @GetMapping("/people/{id}/tokens")
    List<People.TokenView> tokens(Person person, @PathVariable String id) {
        ownOrAdmin(person, id);
        return people.tokens(id);
    }

    @DeleteMapping("/people/{id}/tokens")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revoke(Person person, @PathVariable String id, @RequestParam String label) {
        ownOrAdmin(person, id);
        if (!people.revoke(id, label, person.id())) {
            throw new NotFound("token", label);
        }
    }

    private static void ownOrAdmin(Person person, String id) {
        if (!person.id().equals(id)) {
            Access.MANAGE_PEOPLE.require(person);
        }
    }

    /** Makes a token, told once: for oneself, or by an admin for somebody else. */
    @PostMapping("/people/{id}/tokens")
    ResponseEntity<Token> token(Person person, @PathVariable String id, @RequestBody NewToken body) {
        ownOrAdmin(person, id);
        if (body.label() == null || body.label().isBlank() || body.label().length() > 100) {
            throw new IllegalArgumentException("‘label’ must have from 1 to 100 characters.");
        }
        return Made.at(
                "/api/people/" + id + "/tokens",
                new Token(id, body.label(), people.newToken(id, body.label(), person.id())));
    }
}
