package servitor.service.people;

import java.util.Arrays;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.PersonRow;

/** Reads people with what they belong to. */
@Component
public class PeopleReader {
    private final Ledger ledger;

    PeopleReader(Ledger ledger) {
        this.ledger = ledger;
    }

    public Optional<Person> find(String id) {
        return ledger.person(id).map(this::person);
    }

    Person person(PersonRow row) {
        return new Person(
                row.id(),
                row.name(),
                row.email(),
                row.account(),
                split(row.roles()).stream().map(Role::of).collect(Collectors.toSet()),
                ledger.desksOf(row.id()),
                ledger.groupsOf(row.id()),
                row.disabled() == null);
    }

    static Set<String> split(String words) {
        return Arrays.stream(words.split(" ")).filter(word -> !word.isEmpty()).collect(Collectors.toSet());
    }
}
