package servitor.service.api;

import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
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

    PeopleController(People people) {
        this.people = people;
    }

    record Details(
            @Nullable String name,
            @Nullable String email,
            @Nullable String account,
            @Nullable String manager,
            @Nullable String password,
            @Nullable Set<Role> roles,
            @Nullable Set<String> desks,
            @Nullable Set<String> groups) {}

    record NewToken(String label) {}

    record Token(String person, String label, String token) {}

    @GetMapping("/people")
    List<Person> list(Person person) {
        admin(person);
        return people.all();
    }

    @PutMapping("/people/{id}")
    Person put(Person person, @PathVariable String id, @RequestBody Details details) {
        admin(person);
        return people.put(
                new PersonDetails(
                        id,
                        details.name(),
                        details.email(),
                        details.account(),
                        details.manager(),
                        details.password(),
                        details.roles(),
                        details.desks(),
                        details.groups()),
                person.id());
    }

    /** Makes a token, told once: for oneself, or by an admin for somebody else. */
    @PostMapping("/people/{id}/tokens")
    @ResponseStatus(HttpStatus.CREATED)
    Token token(Person person, @PathVariable String id, @RequestBody NewToken body) {
        if (!person.id().equals(id)) {
            admin(person);
        }
        if (body.label() == null || body.label().isBlank() || body.label().length() > 100) {
            throw new IllegalArgumentException("‘label’ must have from 1 to 100 characters.");
        }
        return new Token(id, body.label(), people.newToken(id, body.label()));
    }

    private static void admin(Person person) {
        if (!person.is(Role.ADMIN)) {
            throw new NotAllowed("This is an admin's work.");
        }
    }
}
