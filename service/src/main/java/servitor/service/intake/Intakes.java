package servitor.service.intake;

import java.time.Clock;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.json.Json;
import servitor.service.cases.CaseRow;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.InvalidCase;
import servitor.service.editions.Editions;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;
import tools.jackson.databind.JsonNode;

/** Turns messages of outside systems into cases, by the intake files of the current edition. */
@Service
public class Intakes {
    private final Editions editions;
    private final PersonStore personStore;
    private final Cases cases;
    private final Clock clock;

    Intakes(Editions editions, PersonStore personStore, Cases cases, Clock clock) {
        this.editions = editions;
        this.personStore = personStore;
        this.cases = cases;
        this.clock = clock;
    }

    /** An intake and the kind of case its messages become. */
    public record Known(Intake intake, Kind kind) {}

    /** What became of a message. */
    public sealed interface Taken {}

    /** A case was opened for it, or had been for the same message earlier. */
    public record Opened(CaseRow row, boolean isNew) implements Taken {}

    /** It isn't one that becomes a case. */
    public record LeftOut(String why) implements Taken {}

    /** What would be opened; nothing was. */
    public record Tried(Intake.Asked asked, String kind, String requester) implements Taken {}

    /** The intakes whose cases belong to a desk of this person. */
    public List<Known> seenBy(Person person) {
        return editions.current().stream()
                .flatMap(edition -> new TreeMap<>(edition.handbook().intake())
                        .values().stream()
                                .map(intake -> new Known(
                                        intake,
                                        Objects.requireNonNull(
                                                edition.handbook().kinds().get(intake.kind())))))
                .filter(known -> person.staffDesks().contains(known.kind().desk()))
                .toList();
    }

    /**
     * Takes one message in; empty when there is no such intake. Whoever sends it must be a resolver of the desk the case
     * goes to: for an outside system, that is a person of its own with a token.
     *
     * @param dry whether to say only what would be opened
     */
    public Optional<Taken> take(Person sender, String name, JsonNode message, boolean dry) {
        Handbook handbook =
                editions.current().map(edition -> edition.handbook()).orElse(null);
        Intake intake = handbook == null ? null : handbook.intake().get(name);
        if (handbook == null || intake == null) {
            return Optional.empty();
        }
        if (!intake.from().equals(Intake.WEBHOOK)) {
            throw new InvalidCase(List.of("message: messages to ‘" + intake.title() + "’ come by " + intake.from()));
        }
        Kind kind = Objects.requireNonNull(handbook.kinds().get(intake.kind()));
        Access.SEND_MESSAGES.require(sender, kind.desk());
        Intake.Outcome outcome = intake.read(message, clock.instant().toString());
        if (outcome instanceof Intake.LeftOut left) {
            return Optional.of(new LeftOut(left.why()));
        }
        if (outcome instanceof Intake.Unreadable unreadable) {
            throw new InvalidCase(InvalidCase.wrongWith("message", unreadable.faults()));
        }
        return Optional.of(take(sender, intake, (Intake.Asked) outcome, dry));
    }

    private Taken take(Person sender, Intake intake, Intake.Asked asked, boolean dry) {
        NewCase wanted = new NewCase(
                intake.kind(),
                asked.subject(),
                asked.text(),
                asked.language(),
                requester(sender, asked.requester()),
                asked.fields());
        if (dry) {
            cases.check(wanted);
            return new Tried(asked, intake.kind(), String.valueOf(wanted.requester()));
        }
        String key = asked.key() == null ? null : Json.digest("intake " + intake.name() + " " + asked.key());
        Cases.Opened opened = cases.takeIn(sender, wanted, intake.name(), key);
        return new Opened(opened.row(), opened.isNew());
    }

    private String requester(Person sender, @Nullable String named) {
        if (named == null || named.isBlank()) {
            return sender.id();
        }
        List<PersonRow> meant = personStore.called(named.strip());
        if (meant.size() != 1) {
            throw new InvalidCase(List.of("requester: "
                    + (meant.isEmpty() ? "there is no person" : "there are several people")
                    + " with the name, account or address ‘" + named + "’"));
        }
        return meant.get(0).id();
    }
}
