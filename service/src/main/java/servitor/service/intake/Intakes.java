package servitor.service.intake;

import java.time.Clock;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Predicate;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.intake.OutsideEvent;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.InvalidCase;
import servitor.service.editions.Editions;
import servitor.service.people.Access;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** The intakes of the edition in force, and what would become of messages to them. */
@Service
public class Intakes {
    private static final List<String> POSTED = List.of(Intake.WEBHOOK, Intake.LINES);

    private final Editions editions;
    private final Requesters requesters;
    private final OpenCases openCases;
    private final Cases cases;
    private final Clock clock;

    Intakes(Editions editions, Requesters requesters, OpenCases openCases, Cases cases, Clock clock) {
        this.editions = editions;
        this.requesters = requesters;
        this.openCases = openCases;
        this.cases = cases;
        this.clock = clock;
    }

    /** An intake and the kind of case its messages become. */
    public record Known(Intake intake, Kind kind) {}

    /** What would become of a message; nothing did. */
    public sealed interface Tried {}

    /** It isn't one that becomes a case. */
    public record LeftOut(String why) implements Tried {}

    /**
     * A case that would be opened, or the one it would come to.
     *
     * @param joins the case it would come to; empty when it would open one
     * @param ignored where the message holds something that isn't read
     */
    public record Would(Intake.Asked asked, String kind, String requester, String joins, List<String> ignored)
            implements Tried {}

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

    /** The intake of this name to which systems post, with its kind; empty when there is none. */
    Optional<Known> posted(String name) {
        return find(name).filter(known -> POSTED.contains(known.intake().from()));
    }

    /** The same for a person, who is told when messages come there in another way. */
    Optional<Known> posted(Person person, String name) {
        Optional<Known> found = find(name);
        found.ifPresent(known -> {
            Access.SEND_MESSAGES.require(person, known.kind().desk());
            if (!POSTED.contains(known.intake().from())) {
                throw new InvalidCase(List.of("message: messages to ‘"
                        + known.intake().title() + "’ come by " + known.intake().from()));
            }
        });
        return found;
    }

    /** The intake of this name with its kind. */
    Optional<Known> find(String name) {
        return editions.current()
                .map(edition -> edition.handbook())
                .flatMap(book -> Optional.ofNullable(book.intake().get(name))
                        .map(intake -> new Known(
                                intake, Objects.requireNonNull(book.kinds().get(intake.kind())))));
    }

    /**
     * What would become of one message; empty when there is no such intake. For whoever may send messages there.
     *
     * @throws InvalidCase with everything that is wrong with it
     */
    public Optional<Tried> attempt(Person person, String name, OutsideEvent event) {
        return posted(person, name).map(known -> attempt(person, known, event));
    }

    private Tried attempt(Person person, Known known, OutsideEvent event) {
        String now = clock.instant().toString();
        Intake.Outcome outcome = known.intake().read(event, now);
        Intake.LeftOut left = outcome instanceof Intake.LeftOut out ? out : null;
        if (left != null && left.asked() == null) {
            return new LeftOut(left.why());
        } else if (outcome instanceof Intake.Unreadable unreadable) {
            throw new InvalidCase(InvalidCase.wrongWith("message", unreadable.faults()));
        }
        Intake.Asked asked = left == null ? (Intake.Asked) outcome : Objects.requireNonNull(left.asked());
        Predicate<JsonNode> about = known.intake().about(asked, event, now);
        String joins = known.intake().belongs() instanceof Intake.Matching
                ? openCases.of(known.kind()).open().stream()
                        .filter(one -> about.test(one.known()))
                        .findFirst()
                        .map(OpenCases.Open::id)
                        .orElse("")
                : "";
        if (left != null && joins.isEmpty()) {
            return new LeftOut(left.why());
        }
        Person meant = requesters.meant(Sender.of(person), asked.requester());
        cases.check(wanted(known.intake(), asked));
        return new Would(
                asked, known.intake().kind(), meant.id(), joins, known.intake().ignored(event.data()));
    }

    /** The case that a message asks for. */
    static NewCase wanted(Intake intake, Intake.Asked asked) {
        return new NewCase(intake.kind(), asked.subject(), asked.text(), asked.language(), null, asked.fields());
    }
}
