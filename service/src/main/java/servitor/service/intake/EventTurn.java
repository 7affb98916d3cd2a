package servitor.service.intake;

import static servitor.service.intake.MailRequests.bounded;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Predicate;
import servitor.core.engine.Engine;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Intake;
import servitor.core.intake.OutsideEvent;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.Situation;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.Arrival;
import servitor.service.cases.InvalidCase;
import servitor.service.cases.TooMany;
import servitor.service.intake.OpenCases.Open;
import servitor.service.intake.Taken.Outcome;
import servitor.service.ledger.LedgerTransaction;
import tools.jackson.databind.JsonNode;

/** What becomes of some messages of one sender within one transaction. */
final class EventTurn {
    private static final int LONGEST_NOTE = 20_000;

    private final LedgerTransaction tx;
    private final Intakes.Known known;
    private final Sender sender;
    private final EventStore events;
    private final Cases cases;
    private final CaseStore caseStore;
    private final Engine engine;
    private final Requesters requesters;
    /** Cases that were open, the newest first. */
    private final List<Open> open;

    private final Map<String, RepeatRow> counted = new LinkedHashMap<>();
    /** Whether whatever brings them waits as long as they would open too many cases. */
    private boolean patient;

    EventTurn(
            LedgerTransaction tx,
            Intakes.Known known,
            Sender sender,
            EventStore events,
            Cases cases,
            CaseStore caseStore,
            Engine engine,
            Requesters requesters,
            List<Open> open) {
        this.tx = tx;
        this.known = known;
        this.sender = sender;
        this.events = events;
        this.cases = cases;
        this.caseStore = caseStore;
        this.engine = engine;
        this.requesters = requesters;
        this.open = new ArrayList<>(open);
    }

    /** Takes them in, one after the other. */
    List<Taken> take(List<OutsideEvent> all) {
        patient = all.size() == 1;
        List<Taken> taken = all.stream().map(this::take).toList();
        counted.values().forEach(events::count);
        return taken;
    }

    /**
     * Takes lines in that came together: they are one message, which counts once.
     *
     * @param same what makes it the same as another; empty for nothing
     * @param waits whether they wait, all of them, as long as they would open too many cases
     */
    List<Taken> takeLines(List<OutsideEvent> lines, String same, String body, boolean waits) {
        patient = waits;
        String key = "lines " + known.intake().name() + " " + (same.isEmpty() ? UUID.randomUUID() : same);
        String id = Json.digest(key);
        Optional<EventRow> before = events.find(id);
        if (before.filter(row -> !row.caseId().isEmpty()).isPresent()) {
            Taken again = new Taken(Outcome.KNOWN, before.get().caseId(), "");
            return lines.stream().map(line -> again).toList();
        }
        List<Taken> taken = lines.stream()
                .map(line -> became(line, known.intake().read(line, tx.now().toString())))
                .toList();
        counted.values().forEach(events::count);
        OutsideEvent all = new OutsideEvent(lines.size() + " lines", "", "", "", "", Json.of(body));
        keep(id, all, together(taken), before.isPresent());
        return taken;
    }

    /** What became of them together: what became of the one of which most became. */
    private static Taken together(List<Taken> taken) {
        return taken.stream()
                .min(Comparator.comparing(Taken::outcome))
                .orElse(Taken.leftOut("there are no lines in it"));
    }

    private Taken take(OutsideEvent event) {
        Intake.Outcome read = known.intake().read(event, tx.now().toString());
        String same = same(event, read);
        String id = same.isEmpty() ? Json.digest(UUID.randomUUID().toString()) : Json.digest(same);
        Optional<EventRow> before = same.isEmpty() ? Optional.empty() : events.find(id);
        if (before.filter(row -> !row.caseId().isEmpty()).isPresent()) {
            return new Taken(Outcome.KNOWN, before.get().caseId(), before.get().reason());
        }
        Optional<CaseRow> earlier = earlier(read);
        Taken taken = earlier.map(row -> new Taken(Outcome.KNOWN, row.id(), "")).orElseGet(() -> became(event, read));
        if (taken.outcome() != Outcome.COUNTED || !same.isEmpty()) {
            keep(id, event, taken, before.isPresent());
        }
        return taken;
    }

    /** What makes a message the same as another; empty when nothing does. */
    private String same(OutsideEvent event, Intake.Outcome read) {
        String intake = known.intake().name();
        if (read instanceof Intake.Asked asked && asked.key() != null) {
            return "intake " + intake + " " + asked.key();
        }
        return event.id().isEmpty() ? "" : "event " + intake + " " + event.source() + " " + event.id();
    }

    /** Earlier versions kept what makes messages the same beside the keys of people. */
    private Optional<CaseRow> earlier(Intake.Outcome read) {
        return sender.person() != null && read instanceof Intake.Asked asked && asked.key() != null
                ? cases.openedEarlier(
                        sender.person(), Json.digest("intake " + known.intake().name() + " " + asked.key()))
                : Optional.empty();
    }

    private void keep(String id, OutsideEvent event, Taken taken, boolean again) {
        String payload = Json.write(event.data());
        EventRow row = new EventRow(
                id,
                known.intake().name(),
                tx.now(),
                sender.name(),
                event.source(),
                event.id(),
                taken.outcome().word(),
                taken.caseId(),
                bounded(taken.why(), 1_000),
                payload.length());
        if (again) {
            events.put(row);
        } else {
            events.insert(row);
        }
        if (taken.outcome() != Outcome.COUNTED) {
            events.keep(row, payload);
        }
    }

    private Taken became(OutsideEvent event, Intake.Outcome read) {
        if (read instanceof Intake.Unreadable unreadable) {
            return Taken.invalid(String.join("; ", InvalidCase.wrongWith("message", unreadable.faults())));
        }
        Intake.LeftOut left = read instanceof Intake.LeftOut out ? out : null;
        Intake.Asked asked = left == null ? (Intake.Asked) read : left.asked();
        try {
            Optional<Open> about = asked == null ? Optional.empty() : about(asked, event);
            if (left != null && (asked == null || about.isEmpty())) {
                return Taken.leftOut(left.why());
            }
            Intake.Asked said = Objects.requireNonNull(asked);
            Taken taken = about.isPresent() ? join(about.get().id(), said) : open(said);
            if (taken.outcome() != Outcome.COUNTED) {
                log(event, taken);
            }
            return taken;
        } catch (InvalidCase e) {
            return Taken.invalid(String.join("; ", e.wrong()));
        } catch (TooMany e) {
            if (patient) {
                throw e; // whoever sent it may send it again
            }
            return Taken.invalid(String.valueOf(e.getMessage()));
        }
    }

    private Optional<Open> about(Intake.Asked asked, OutsideEvent event) {
        Predicate<JsonNode> about = known.intake().about(asked, event, tx.now().toString());
        return open.stream()
                .filter(one -> about.test(one.known()))
                .filter(one -> {
                    Situation.CaseView view = tx.store().situation(one.id()).view();
                    return !CaseState.RESOLVED.is(view.state())
                            && !CaseState.CLOSED.is(view.state())
                            && about.test(one.now(view));
                })
                .findFirst();
    }

    private Taken open(Intake.Asked asked) {
        CaseRow row = cases.open(
                tx,
                requesters.meant(sender, asked.requester()),
                Intakes.wanted(known.intake(), asked),
                new Arrival(
                        known.intake().name(), sender.channel(), sender.proof(), sender.person(), asked.relations()));
        open.add(0, OpenCases.of(row, asked.relations()));
        if (known.intake().countWithin() != null) {
            count(row.id(), said(asked));
        }
        return new Taken(Outcome.OPENED, row.id(), "");
    }

    private Taken join(String id, Intake.Asked asked) {
        String intake = known.intake().name();
        boolean woke = engine.arrived(tx.store(), id, "event", intake, told(asked));
        if (!woke && known.intake().countWithin() != null) {
            RepeatRow last = counted.containsKey(id)
                    ? counted.get(id)
                    : events.repeat(id, intake).orElse(null);
            if (last != null
                    && last.said().equals(said(asked))
                    && tx.now().isBefore(last.latest().plus(known.intake().countWithin()))) {
                counted.put(id, last.again(tx.now()));
                return new Taken(Outcome.COUNTED, id, "");
            }
            count(id, said(asked));
        }
        String text = text(asked);
        cases.add(
                tx,
                caseStore.find(id).orElseThrow(),
                sender.actor(intake),
                sender.channel(),
                bounded(text.isEmpty() ? "(it says nothing)" : text, LONGEST_NOTE));
        return new Taken(Outcome.JOINED, id, "");
    }

    private static String text(Intake.Asked asked) {
        return (asked.subject() + "\n" + asked.text()).strip();
    }

    private static String said(Intake.Asked asked) {
        return Json.digest(text(asked));
    }

    /** Whatever says the same about a case from now on is counted. */
    private void count(String caseId, String said) {
        counted.put(caseId, new RepeatRow(caseId, known.intake().name(), said, tx.now(), tx.now(), 0));
    }

    private TracedValue told(Intake.Asked asked) {
        var told = Json.object()
                .put("name", known.intake().name())
                .put("at", tx.now().toString());
        told.set("data", asked.message());
        return TracedValue.of(told, Origin.REQUESTER);
    }

    private void log(OutsideEvent event, Taken taken) {
        tx.trail(
                taken.caseId(),
                "",
                new TrailEvent(
                        sender.actor(known.intake().name()),
                        TrailWord.EVENT_TAKEN_IN,
                        "",
                        Json.object()
                                .put("intake", known.intake().name())
                                .put("source", event.source())
                                .put("id", event.id())
                                .put("became", taken.outcome().word())));
    }
}
