package servitor.service.intake;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.IntStream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.stereotype.Service;
import servitor.core.engine.Engine;
import servitor.core.engine.LostRace;
import servitor.core.handbook.Intake;
import servitor.core.intake.OutsideEvent;
import servitor.core.json.Json;
import servitor.service.ServitorSettings;
import servitor.service.Unavailable;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.cases.TooMany;
import servitor.service.intake.OpenCases.Found;
import servitor.service.intake.OpenCases.Open;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/**
 * Takes messages of outside systems in: each opens a case, comes to one that is open, or is kept with the reason why it did neither.
 * What became of it and that it was taken in is one transaction, so that nothing is lost and nothing doubled.
 */
@Service
public class EventIntake {
    private static final Logger LOG = LoggerFactory.getLogger(EventIntake.class);
    private static final int AT_ONCE = 100;
    private static final int TRIES = 20;
    private static final int MOST_LISTED = 200;

    private final Refusals refused = new Refusals();
    private final EventStore events;
    private final Cases cases;
    private final CaseStore caseStore;
    private final OpenCases openCases;
    private final Engine engine;
    private final Requesters requesters;
    private final Intakes intakes;
    private final Writer writer;
    private final Clock clock;
    private final Duration keep;

    EventIntake(
            EventStore events,
            Cases cases,
            CaseStore caseStore,
            OpenCases openCases,
            Engine engine,
            Requesters requesters,
            Intakes intakes,
            Writer writer,
            Clock clock,
            ServitorSettings settings) {
        this.events = events;
        this.cases = cases;
        this.caseStore = caseStore;
        this.openCases = openCases;
        this.engine = engine;
        this.requesters = requesters;
        this.intakes = intakes;
        this.writer = writer;
        this.clock = clock;
        this.keep = settings.keepEvents();
    }

    /** Takes messages in; each is in what is answered, in their order. */
    List<Taken> take(Intakes.Known known, Sender sender, List<OutsideEvent> all) {
        List<Taken> taken = new ArrayList<>();
        for (int from = 0; from < all.size(); from += AT_ONCE) {
            List<OutsideEvent> some = all.subList(from, Math.min(all.size(), from + AT_ONCE));
            taken.addAll(takeSome(known, sender, some));
        }
        return taken;
    }

    private List<Taken> takeSome(Intakes.Known known, Sender sender, List<OutsideEvent> some) {
        try {
            return inTurn(known, sender, TRIES, turn -> turn.take(some));
        } catch (Unavailable e) {
            throw e;
        } catch (RuntimeException e) {
            if (some.size() == 1) {
                throw e;
            }
            return some.stream().map(one -> takeOne(known, sender, one)).toList();
        }
    }

    /** Has a turn of the writer; when another service is faster, another one. */
    private List<Taken> inTurn(Intakes.Known known, Sender sender, int tries, Function<EventTurn, List<Taken>> work) {
        boolean asks = known.intake().belongs() instanceof Intake.Matching;
        // the search is made before the writer's turn; there, only what has been opened since is looked at
        Found before = asks ? openCases.of(known.kind()) : new Found(List.of(), 0);
        try {
            return writer.write(tx -> {
                List<Open> open = new ArrayList<>(asks ? openCases.since(known.kind(), before.newest()) : List.of());
                open.addAll(before.open());
                return work.apply(new EventTurn(tx, known, sender, events, cases, caseStore, engine, requesters, open));
            });
        } catch (LostRace | DuplicateKeyException e) {
            if (tries == 0) {
                throw e;
            }
            return inTurn(known, sender, tries - 1, work);
        }
    }

    /** Takes lines in that came together, in one go; each is in what is answered, in their order. */
    List<Taken> takeLines(Intakes.Known known, Sender sender, List<OutsideEvent> lines, String same, String body) {
        try {
            return inTurn(known, sender, TRIES, turn -> turn.takeLines(lines, same, body, false));
        } catch (Unavailable e) {
            throw e;
        } catch (RuntimeException e) {
            return IntStream.range(0, lines.size())
                    .mapToObj(at -> takeOne(known, sender, numbered(lines.get(at), same, at)))
                    .toList();
        }
    }

    /** The same for lines of a file, which wait there as long as they would open too many cases. */
    List<Taken> followLines(Intakes.Known known, Sender sender, List<OutsideEvent> lines, String same, String body) {
        try {
            return inTurn(known, sender, TRIES, turn -> turn.takeLines(lines, same, body, true));
        } catch (Unavailable | TooMany e) {
            throw e;
        } catch (RuntimeException e) {
            return takeLines(known, sender, lines, same, body);
        }
    }

    /** A line that is taken in by itself is known by its place among those it came with. */
    private static OutsideEvent numbered(OutsideEvent line, String same, int at) {
        return same.isEmpty() ? line : line.named(Json.digest(same) + " " + at, "lines");
    }

    /** One of several that couldn't be taken in together: it stops no other. */
    private Taken takeOne(Intakes.Known known, Sender sender, OutsideEvent event) {
        try {
            return takeSome(known, sender, List.of(event)).get(0);
        } catch (Unavailable e) {
            throw e;
        } catch (TooMany e) {
            return Taken.invalid(String.valueOf(e.getMessage()));
        } catch (RuntimeException e) {
            LOG.error(
                    "A message to {} can't be taken in; the others are.",
                    known.intake().name(),
                    e);
            return Taken.invalid(
                    "it couldn't be taken in by a fault of ours, which the service's log tells; send it again later");
        }
    }

    /** Notes that a message couldn't be read at all. */
    void unreadable(Intakes.Known known, Sender sender, String why, byte[] body) {
        writer.write(tx -> {
            String id = Json.digest("unreadable " + known.intake().name() + " " + Json.sha256(body));
            events.put(new EventRow(
                    id,
                    known.intake().name(),
                    tx.now(),
                    sender.name(),
                    "",
                    "",
                    Taken.Outcome.INVALID.word(),
                    "",
                    MailRequests.bounded(why, 1_000),
                    body.length));
            return id;
        });
    }

    /** A message wasn't from whom it had to be. It is only counted here, as anybody can send one. */
    public void refused(String intake, String reason) {
        refused.add(intake, MailRequests.bounded(reason, 200));
    }

    /** What was refused within a day, the latest first. */
    public List<RefusalRow> refusals(String intake) {
        writeRefused();
        return events.refusals(intake, clock.instant());
    }

    /** Writes how many were refused. */
    public void writeRefused() {
        Map<Refusals.Reason, Long> counted = refused.take();
        if (!counted.isEmpty()) {
            writer.write(tx -> {
                counted.forEach((reason, times) -> events.refused(reason.intake(), reason.words(), times, tx.now()));
                return counted;
            });
        }
    }

    /**
     * What came to an intake last, and what was refused within a day.
     *
     * @param refused messages that weren't from whom they had to be
     */
    public record Latest(List<EventRow> events, List<RefusalRow> refused) {}

    /** Empty when there is no such intake of a desk one works for. */
    public Optional<Latest> latest(Person person, String name) {
        writeRefused();
        return seen(person, name)
                .map(known -> new Latest(events.latest(name, MOST_LISTED), events.refusals(name, clock.instant())));
    }

    /** A message with what it said. */
    public record Kept(EventRow row, Optional<JsonNode> payload) {}

    /** A message of an intake of a desk one works for; empty when there is none such. */
    public Optional<Kept> find(Person person, String name, String id) {
        return seen(person, name)
                .flatMap(known -> events.find(id))
                .filter(row -> row.intake().equals(name))
                .map(row -> new Kept(row, events.payload(id).map(text -> Json.read(text, JsonNode.class))));
    }

    private Optional<Intakes.Known> seen(Person person, String name) {
        return intakes.seenBy(person).stream()
                .filter(known ->
                        known.intake().name().equals(name) && known.intake().mailbox() == null)
                .findFirst();
    }

    /** Forgets what messages said that came longer ago than the settings say. */
    public void forgetOld() {
        Instant before = clock.instant().minus(keep);
        writer.write(tx -> {
            events.forget(before);
            return before;
        });
    }
}
