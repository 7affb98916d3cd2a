package servitor.service.intake;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.service.cases.InvalidCase;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;

/** Whose cases messages of outside systems become. */
@Component
class Requesters {
    private final PersonStore personStore;
    private final PeopleReader people;

    Requesters(PersonStore personStore, PeopleReader people) {
        this.personStore = personStore;
        this.people = people;
    }

    /** Whoever a message names by id, account or address, or who brings it; throws {@link InvalidCase} when that is nobody. */
    Person meant(Sender sender, @Nullable String named) {
        if (named == null || named.isBlank()) {
            if (sender.person() == null) {
                throw new InvalidCase(List.of("requester: the message names nobody"));
            }
            return sender.person();
        }
        List<PersonRow> meant = personStore.called(named.strip());
        if (meant.size() != 1) {
            throw new InvalidCase(List.of("requester: "
                    + (meant.isEmpty() ? "there is no person" : "there are several people")
                    + " with the name, account or address ‘" + named + "’"));
        }
        return people.find(meant.get(0).id()).orElseThrow();
    }
}
