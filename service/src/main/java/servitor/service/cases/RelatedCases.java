package servitor.service.cases;

import java.time.DateTimeException;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Opening;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.cases.Cases.ForAnother;
import servitor.service.cases.Cases.NewCase;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** Cases that belong together: opened by steps of others, and seen to by somebody in particular. */
@Service
public class RelatedCases {
    private static final int DEEPEST = 5;
    private static final int MOST = 50;
    /** Whose key it is in the table of keys under which cases were asked for; nobody is called that. */
    private static final String STEPS = "(steps)";

    private final Cases cases;
    private final CaseStore caseStore;
    private final PeopleReader people;
    private final Writer writer;

    RelatedCases(Cases cases, CaseStore caseStore, PeopleReader people, Writer writer) {
        this.cases = cases;
        this.caseStore = caseStore;
        this.people = people;
        this.writer = writer;
    }

    /** It can't be opened from there; the message says why. */
    public static final class Refused extends RuntimeException {
        Refused(String message) {
            super(message);
        }
    }

    /**
     * Opens a case that a step of another has opened, once for each key.
     *
     * @param agent whose step it is
     * @param inputs of {@link Opening#OPEN}
     * @throws InvalidCase when it can't become a case, {@link TooMany} when it is one too many, {@link Refused} when it can't be opened
     *     from there; nothing is written then
     */
    public CaseRow open(String from, String agent, JsonNode inputs, String key) {
        String digest = Json.digest(inputs);
        return writer.write(tx -> {
            Optional<CaseRow> earlier =
                    caseStore.requestKey(STEPS, key).flatMap(found -> caseStore.find(found.caseId()));
            if (earlier.isPresent()) {
                return earlier.get();
            }
            CaseRow parent = caseStore.find(from).orElseThrow(() -> new NoSuchCase(from));
            CaseRow opened = open(tx, parent, agent, inputs);
            caseStore.insertRequestKey(STEPS, key, digest, opened.id());
            return opened;
        });
    }

    private CaseRow open(LedgerTransaction tx, CaseRow parent, String agent, JsonNode inputs) {
        String kind = text(inputs, Opening.KIND, "");
        noCircle(parent, kind);
        String owner = text(inputs, Opening.OWNER, "");
        NewCase wanted = new NewCase(
                kind, text(inputs, "subject", ""), text(inputs, "text", ""), parent.language(), null, fields(inputs));
        seenByOwner(cases.kind(wanted).desk(), owner);
        ForAnother how = new ForAnother(parent, agent, owner, within(inputs));
        CaseRow row = cases.open(tx, wanted, requester(parent, inputs), how);
        caseStore.relate(new RelationRow(parent.id(), text(inputs, Opening.RELATION, "opened"), row.id()));
        CaseStore.changed(tx, parent);
        return row;
    }

    /** A case leads to no other of its own kind, however far, and neither too deep nor to too many. */
    private void noCircle(CaseRow parent, String kind) {
        int depth = 1;
        for (CaseRow above = parent; above != null; above = above(above)) {
            if (above.kind().equals(kind)) {
                throw new Refused("a case ‘" + kind + "’ would lead to another ‘" + kind + "’, by " + above.id());
            } else if (depth++ >= DEEPEST) {
                throw new Refused("cases lead to each other " + DEEPEST + " deep already, up to " + above.id());
            }
        }
        if (caseStore.openedFor(parent.id()) >= MOST) {
            throw new Refused(MOST + " cases were opened for " + parent.id() + " already");
        }
    }

    private @Nullable CaseRow above(CaseRow row) {
        return row.openedFor() == null ? null : caseStore.find(row.openedFor()).orElse(null);
    }

    private String requester(CaseRow parent, JsonNode inputs) {
        String named = text(inputs, Opening.FOR, parent.requester());
        if (!named.equals(parent.requester()) && people.find(named).isEmpty()) {
            throw new InvalidCase(List.of("for: there is no person ‘" + named + "’"));
        }
        return named;
    }

    /** What somebody is to see to, they have to see. */
    private void seenByOwner(String desk, String owner) {
        boolean seen = people.meant(owner).stream()
                .anyMatch(person -> person.staffDesks().contains(desk));
        if (!owner.isEmpty() && !seen) {
            throw new InvalidCase(List.of("owner: nobody of ‘" + owner + "’ sees cases of the desk ‘" + desk + "’"));
        }
    }

    private static Map<String, JsonNode> fields(JsonNode inputs) {
        Map<String, JsonNode> fields = new LinkedHashMap<>();
        inputs.path("fields").properties().forEach(field -> fields.put(field.getKey(), field.getValue()));
        return fields;
    }

    private static @Nullable Duration within(JsonNode inputs) {
        String text = text(inputs, Opening.WITHIN, "");
        try {
            return text.isEmpty() ? null : Duration.parse(text);
        } catch (DateTimeException e) {
            throw new InvalidCase(List.of("within: ‘" + text + "’ is no length of time, such as PT4H or P2D"));
        }
    }

    private static String text(JsonNode inputs, String name, String otherwise) {
        return inputs.path(name).asString(otherwise);
    }

    /** Has a group, or a person by {@code person:ID}, see to a case; nobody in particular when {@code owner} is empty. */
    public CaseRow own(Person by, String caseId, String owner) {
        return writer.write(tx -> {
            CaseRow row = caseStore.seenBy(by, caseId);
            Access.SAY_WHO_SEES_TO_IT.require(by, row);
            seenByOwner(row.desk(), owner);
            if (!owner.equals(row.owner())) {
                caseStore.owned(tx, row, owner);
                tx.trail(
                        caseId,
                        "",
                        new TrailEvent(
                                TrailEvent.person(by.id()),
                                TrailWord.CASE_OWNED,
                                "",
                                Json.object().put("owner", owner).put("was", row.owner())));
            }
            return caseStore.find(caseId).orElseThrow();
        });
    }
}
