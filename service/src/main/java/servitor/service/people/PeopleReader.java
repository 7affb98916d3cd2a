package servitor.service.people;

import java.time.Clock;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** Reads people with what they belong to. */
@Component
public class PeopleReader {
    private static final String PERSON = "person:";

    private final PersonStore personStore;

    private final Clock clock;

    PeopleReader(PersonStore personStore, Clock clock) {
        this.personStore = personStore;
        this.clock = clock;
    }

    public Optional<Person> find(String id) {
        return personStore.find(id).map(this::person);
    }

    /** Everybody, those who may sign in no more among them. */
    public List<Person> all() {
        return personStore.all().stream().map(this::person).toList();
    }

    /** Everybody who may sign in and is meant by a group, a desk or {@code person:ID}. */
    public List<Person> meant(String name) {
        return personStore.meant(name).stream().map(this::person).toList();
    }

    /** The same, and whoever stands in now for somebody who is meant by {@code person:ID}. */
    public List<Person> meantOrInstead(String name) {
        List<Person> all = new ArrayList<>(meant(name));
        if (name.startsWith(PERSON)) {
            String away = name.substring(PERSON.length());
            personStore
                    .deputy(away)
                    .flatMap(row -> find(row.deputy()))
                    .filter(deputy -> deputy.enabled() && deputy.standsInFor().contains(away))
                    .ifPresent(all::add);
        }
        return all;
    }

    Person person(PersonRow row) {
        Set<Role> roles = split(row.roles()).stream().map(Role::of).collect(Collectors.toSet());
        return new Person(
                row.id(),
                row.name(),
                row.email(),
                row.account(),
                roles,
                personStore.desksOf(row.id()),
                personStore.groupsOf(row.id()),
                row.disabled() == null,
                roles.contains(Role.APPROVER) ? personStore.standsInFor(row.id(), clock.instant()) : Set.of());
    }

    static Set<String> split(String words) {
        return Arrays.stream(words.split(" ")).filter(word -> !word.isEmpty()).collect(Collectors.toSet());
    }
}
