package servitor.service.people;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ledger.Writer;

/**
 * Who answers approvals for somebody who is away. A deputy is an approver who works at every desk of that person's, or answers
 * would show them what isn't theirs to see; a deputy's own deputy answers nothing for them.
 */
@Service
public class Deputies {
    private static final Duration LONGEST = Duration.ofDays(366);

    private final PersonStore people;
    private final PeopleReader reader;
    private final Writer writer;
    private final Clock clock;

    Deputies(PersonStore people, PeopleReader reader, Writer writer, Clock clock) {
        this.people = people;
        this.reader = reader;
        this.writer = writer;
        this.clock = clock;
    }

    /** The deputy of a person, now or to come. */
    public Optional<DeputyRow> of(String person) {
        return people.deputy(person).filter(row -> clock.instant().isBefore(row.until()));
    }

    /** Who could be a person's deputy. */
    public List<Person> couldBe(Person person) {
        return people.all().stream()
                .map(reader::person)
                .filter(one -> fault(person, one) == null)
                .toList();
    }

    private static @Nullable String fault(Person person, Person deputy) {
        if (deputy.id().equals(person.id())) {
            return "Nobody is their own deputy.";
        } else if (!deputy.enabled() || !deputy.is(Role.APPROVER)) {
            return deputy.name() + " isn't an approver, so they can't answer for anybody.";
        } else if (!deputy.desks().containsAll(person.desks())) {
            return deputy.name() + " doesn't work at every desk of " + person.name()
                    + "'s, and would see what isn't theirs to see.";
        }
        return null;
    }

    /**
     * Names a person's deputy; an earlier one is replaced.
     *
     * @throws IllegalArgumentException when that can't be: who, or when
     */
    public DeputyRow set(Person person, String deputy, @Nullable Instant since, @Nullable Instant until, String by) {
        Instant now = clock.instant();
        Person chosen = reader.find(deputy)
                .orElseThrow(() -> new IllegalArgumentException("There is no person ‘" + deputy + "’."));
        Instant from = since == null ? now : since;
        if (until == null || !until.isAfter(from) || !until.isAfter(now)) {
            throw new IllegalArgumentException("‘until’ must be a time to come, after ‘since’.");
        }
        if (until.isAfter(from.plus(LONGEST))) {
            throw new IllegalArgumentException("A deputy answers for a year at most; name one anew then.");
        }
        String fault = fault(person, chosen);
        if (fault != null) {
            throw new IllegalArgumentException(fault);
        }
        DeputyRow row = new DeputyRow(person.id(), chosen.id(), from, until, by);
        writer.write(tx -> {
            people.setDeputy(row);
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            TrailEvent.person(by),
                            TrailWord.DEPUTY_SET,
                            "",
                            Json.object()
                                    .put("person", person.id())
                                    .put("deputy", chosen.id())
                                    .put("since", from.toString())
                                    .put("until", until.toString())));
            return null;
        });
        return row;
    }

    /** Takes a person's deputy away; false when there is none. */
    public boolean end(String person, String by) {
        return writer.write(tx -> {
            if (!people.deleteDeputy(person)) {
                return false;
            }
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            TrailEvent.person(by),
                            TrailWord.DEPUTY_ENDED,
                            "",
                            Json.object().put("person", person)));
            return true;
        });
    }
}
