package servitor.service.people;

import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ledger.LedgerTransaction;
import tools.jackson.databind.node.ObjectNode;

/** People who can't sign in, and are known by a mail address only. */
@Component
public class Guests {
    private final PersonStore people;
    private final PeopleReader reader;

    Guests(PersonStore people, PeopleReader reader) {
        this.people = people;
        this.reader = reader;
    }

    /**
     * Whoever has this mail address; a guest when nobody has it, or several do. Called within the writer's transaction.
     *
     * @throws NotAllowed when the guest is one who was shut out
     */
    public Person with(LedgerTransaction tx, String name, String address) {
        List<PersonRow> known = people.withAddress(address).stream()
                .filter(row -> row.disabled() == null)
                .toList();
        if (known.size() == 1) {
            return reader.person(known.get(0));
        }
        String id = "guest-" + Json.digest(address.toLowerCase(Locale.ROOT)).substring(0, 12);
        if (people.find(id).isEmpty()) {
            people.insert(tx, new PersonRow(id, name, address, "", null, "", tx.now(), "", null, null));
            ObjectNode data = Json.object().put("person", id).put("roles", "");
            tx.trail("", "", new TrailEvent(TrailEvent.SYSTEM, TrailWord.PERSON_ADDED, "", data));
        }
        return reader.find(id)
                .filter(Person::enabled)
                .orElseThrow(() -> new NotAllowed("Nothing can be asked with this mail address any more."));
    }
}
