package servitor.service.cases;

import java.util.List;
import org.springframework.stereotype.Service;
import servitor.core.engine.Engine;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.editions.Editions;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** Hears what has happened outside, for the runs that wait for it. */
@Service
public class Events {
    private final CaseStore caseStore;
    private final Writer writer;
    private final Engine engine;
    private final Editions editions;

    Events(CaseStore caseStore, Writer writer, Engine engine, Editions editions) {
        this.editions = editions;
        this.caseStore = caseStore;
        this.writer = writer;
        this.engine = engine;
    }

    /** Whoever waits for the messages of an intake knows what they hold. */
    private void fits(String name, JsonNode data) {
        editions.current()
                .map(edition -> edition.handbook().intake().get(name))
                .filter(intake -> intake.mailbox() == null)
                .map(intake -> Schemas.violations(intake.message().schema(), data))
                .filter(faults -> !faults.isEmpty())
                .ifPresent(faults -> {
                    throw new InvalidCase(InvalidCase.wrongWith("data", faults));
                });
    }

    /** Tells the runs of a case that something has happened outside; true when one waited for it. */
    public boolean happened(Person person, String caseId, String name, JsonNode data) {
        if (name == null || !name.matches("[a-z0-9][a-z0-9.-]{0,99}")) {
            throw new InvalidCase(List.of("name: an event's name has lower-case letters, digits, ‘.’ and ‘-’"));
        }
        fits(name, data);
        return writer.write(tx -> {
            CaseRow row = caseStore.seenBy(person, caseId);
            Access.REPORT_EVENT.require(person, row);
            tx.trail(
                    caseId,
                    "",
                    new TrailEvent(
                            TrailEvent.person(person.id()),
                            TrailWord.EVENT_REPORTED,
                            "",
                            Json.object().put("name", name).set("data", data)));
            var told = Json.object().put("name", name).put("at", tx.now().toString());
            told.set("data", data);
            return engine.arrived(tx.store(), caseId, "event", name, TracedValue.of(told, Origin.PERSON));
        });
    }
}
