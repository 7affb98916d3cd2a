package servitor.service.cases;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.engine.Engine;
import servitor.core.engine.EngineStore;
import servitor.core.engine.RunControl;
import servitor.core.handbook.Audience;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Priority;
import servitor.core.handbook.Proof;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ServitorSettings;
import servitor.service.editions.Editions;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.NotAllowed;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Opens cases, adds notes to them, starts pages on them and resolves them. */
@Service
public class Cases {
    private static final Duration HOUR = Duration.ofHours(1);
    private static final int LONGEST_SUBJECT = 200;
    private static final int LONGEST_TEXT = 20_000;

    private static final Consumer<CaseRow> NOTHING = row -> {};

    private final CaseStore caseStore;
    private final Writer writer;
    private final Editions editions;
    private final Engine engine;
    private final RunControl runControl;
    private final PeopleReader people;
    private final ServitorSettings settings;

    Cases(
            CaseStore caseStore,
            Writer writer,
            Editions editions,
            Engine engine,
            RunControl runControl,
            PeopleReader people,
            ServitorSettings settings) {
        this.caseStore = caseStore;
        this.people = people;
        this.settings = settings;
        this.writer = writer;
        this.editions = editions;
        this.engine = engine;
        this.runControl = runControl;
    }

    /**
     * A case somebody wants to open.
     *
     * @param requester who it is for; null for whoever asks
     * @param fields values by the names that the kind declares
     */
    public record NewCase(
            String kind,
            String subject,
            String text,
            @Nullable String language,
            @Nullable String requester,
            Map<String, JsonNode> fields) {}

    /** Opens a case and starts its page. The same key of the same person opens it once only. */
    public CaseRow open(Person person, NewCase wanted, @Nullable String key) {
        Kind kind = kind(wanted);
        if (!person.mayOpen(kind)) {
            throw new NotAllowed("‘" + kind.title() + "’ isn't a kind of case that you are offered.");
        }
        return open(person, wanted, kind, key, Json.digest(Json.of(wanted)));
    }

    /**
     * How something comes in by an intake.
     *
     * @param proof how well it is known whom it is from
     * @param by who opens the case; null for whoever asks
     * @param relations what the case is related to, by what it is to it
     */
    public record Arrival(
            String intake,
            Channel channel,
            Proof proof,
            @Nullable Person by,
            Map<String, String> relations) {
        /** A mail. */
        public static Arrival mail(String intake, Proof proof) {
            return new Arrival(intake, Channel.MAIL, proof, null, Map.of());
        }
    }

    /**
     * How a case is opened that a step of another has opened.
     *
     * @param row the other
     * @param agent whose step it is
     * @param owner who is to see to it; empty for its desk
     * @param within how long it may take; null for what its kind says
     */
    record ForAnother(
            CaseRow row,
            String agent,
            String owner,
            @Nullable Duration within) {}

    /**
     * Opens a case for what came in by an intake, in the transaction that notes it as taken in.
     *
     * @param meant whose case it is
     * @throws InvalidCase when it can't become one, {@link TooMany} when it is one too many; nothing is written then
     */
    public CaseRow open(LedgerTransaction tx, Person meant, NewCase wanted, Arrival arrival) {
        return open(tx, meant, wanted, arrival, NOTHING);
    }

    /** The same for a case that comes with something: {@code brought} adds it before any page starts. */
    public CaseRow open(
            LedgerTransaction tx, Person meant, NewCase wanted, Arrival arrival, Consumer<CaseRow> brought) {
        Kind kind = kind(wanted);
        JsonNode fields = Json.of(wanted.fields());
        check(wanted, kind, fields);
        offered(meant, kind);
        notTooMany(tx, meant.id());
        return insert(tx, wanted, kind, meant.id(), arrival, null, fields, brought);
    }

    /** Opens a case that a step has opened, for whoever it names, whom its kind needn't be offered to. */
    CaseRow open(LedgerTransaction tx, NewCase wanted, String requester, ForAnother opened) {
        Kind kind = kind(wanted);
        JsonNode fields = Json.of(wanted.fields());
        check(wanted, kind, fields);
        notTooMany(tx, requester);
        CaseRow parent = opened.row();
        boolean same = requester.equals(parent.requester());
        Proof proof = same ? Proof.of(parent.proof()) : Proof.CLAIMED;
        Arrival arrival = new Arrival("", Channel.NOTE, proof, null, Map.of("opened-for", parent.id()));
        CaseRow row = insert(tx, wanted, kind, requester, arrival, opened, fields, NOTHING);
        if (CaseState.OPEN.is(tx.store().situation(row.id()).view().state())) { // no page works on it
            tx.store().show(row.id(), CaseState.WITH_PEOPLE.word(), null);
        }
        return row;
    }

    /** What an outside system had a case opened for under {@code key}, in the way of earlier versions. */
    public Optional<CaseRow> openedEarlier(Person sender, String key) {
        return caseStore.requestKey(sender.id(), key).flatMap(found -> caseStore.find(found.caseId()));
    }

    /** Adds what an outside system says to a case, for its desk. */
    public void add(LedgerTransaction tx, CaseRow row, String author, Channel channel, String text) {
        NoteRow note = new NoteRow(
                "N-" + UUID.randomUUID(),
                row.id(),
                tx.now(),
                author,
                Audience.STAFF.word(),
                false,
                text,
                channel.word(),
                "",
                "",
                "");
        add(tx, row, note);
    }

    /**
     * What came by mail to a case that is there.
     *
     * @param author as the trail names who wrote it
     * @param name as people call them
     * @param asked whether they are who asked, so that whoever waits for their answer has it
     * @param mail the mail it came as
     */
    public record MailNote(
            String author, String name, Audience audience, String text, Proof proof, String mail, boolean asked) {}

    /**
     * Adds what came by mail, in the transaction that notes the mail as taken in. What comes in the name of who asked lowers what is
     * known of them if it proves less, and opens a case again that was done with.
     */
    public void takeIn(LedgerTransaction tx, CaseRow row, MailNote said) {
        NoteRow note = new NoteRow(
                "N-" + UUID.randomUUID(),
                row.id(),
                tx.now(),
                said.author(),
                said.audience().word(),
                false,
                said.text(),
                Channel.MAIL.word(),
                "",
                said.proof().word(),
                said.mail());
        if (said.asked()) {
            lowerProof(tx, row, said.proof(), said.mail());
        }
        add(tx, row, note);
        if (said.asked()) {
            answered(tx, row, note, said.name());
        }
    }

    /** What is known of a case's requester is as much as the weakest of what came in their name. */
    private void lowerProof(LedgerTransaction tx, CaseRow row, Proof proof, String mail) {
        String weaker = Proof.weaker(row.proof(), proof.word()).word();
        if (!weaker.equals(row.proof())) {
            caseStore.proven(tx, row, weaker);
            tx.trail(
                    row.id(),
                    "",
                    new TrailEvent(
                            TrailEvent.SYSTEM,
                            TrailWord.PROOF_LOWERED,
                            "",
                            Json.object()
                                    .put("from", row.proof())
                                    .put("to", weaker)
                                    .put("mail", mail)));
        }
    }

    private void add(LedgerTransaction tx, CaseRow row, NoteRow note) {
        caseStore.insertNote(tx, note, row);
        ObjectNode data = Json.object().put("audience", note.audience()).put("text", note.text());
        if (!note.mail().isEmpty()) {
            data.put("channel", note.channel()).put("proof", note.proof()).put("mail", note.mail());
        }
        tx.trail(row.id(), "", new TrailEvent(note.author(), TrailWord.NOTE_ADDED, "", data));
    }

    /** Whoever asked has written again: runs that wait for that go on; where none is left, people see to it. */
    private void answered(LedgerTransaction tx, CaseRow row, NoteRow note, String name) {
        if (row.isDone() && tx.store().activeRuns(row.id()).isEmpty()) {
            tx.trail(
                    row.id(),
                    "",
                    new TrailEvent(
                            note.author(),
                            TrailWord.CASE_REOPENED,
                            "",
                            Json.object().put("was", row.state())));
            tx.store().show(row.id(), CaseState.WITH_PEOPLE.word(), null);
            engine.changed(tx.store(), row.id(), CaseChange.What.REOPENED);
        }
        engine.arrived(
                tx.store(),
                row.id(),
                "reply",
                "",
                TracedValue.of(
                        Json.object()
                                .put("text", note.text())
                                .put("by", name)
                                .put("at", note.at().toString()),
                        Origin.REQUESTER));
    }

    /** Names somebody as taking part in a case, so that their mails are no stranger's, or takes that back. */
    public void name(Person by, String caseId, String person, boolean named) {
        writer.write(tx -> {
            CaseRow row = caseStore.seenBy(by, caseId);
            Access.WRITE_STAFF_NOTES.require(by, row);
            Person meant = people.find(person)
                    .orElseThrow(() -> new InvalidCase(List.of("person: there is no person ‘" + person + "’")));
            boolean changes = named != caseStore.named(caseId).contains(meant.id());
            if (changes && named) {
                caseStore.name(tx, row, meant.id(), by.id());
            } else if (changes) {
                caseStore.unname(tx, row, meant.id());
            }
            if (changes) {
                tx.trail(
                        caseId,
                        "",
                        new TrailEvent(
                                TrailEvent.person(by.id()),
                                named ? TrailWord.NAMED_PERSON : TrailWord.UNNAMED_PERSON,
                                "",
                                Json.object().put("person", meant.id())));
            }
            return row;
        });
    }

    private static void offered(Person meant, Kind kind) {
        if (!meant.mayOpen(kind)) {
            throw new InvalidCase(List.of("requester: ‘" + kind.title() + "’ isn't a kind of case that " + meant.name()
                    + " is offered (it is open to " + kind.offered() + ")"));
        }
    }

    /** Throws {@link InvalidCase} with everything that is wrong with it. */
    public void check(NewCase wanted) {
        check(wanted, kind(wanted), Json.of(wanted.fields()));
    }

    Kind kind(NewCase wanted) {
        return editions.current()
                .map(edition -> edition.handbook().kinds().get(wanted.kind()))
                .orElseThrow(
                        () -> new InvalidCase(List.of("kind: there is no kind ‘" + wanted.kind() + "’" + known())));
    }

    private CaseRow open(Person person, NewCase wanted, Kind kind, @Nullable String key, String digest) {
        String requester =
                wanted.requester() == null || wanted.requester().isBlank() ? person.id() : wanted.requester();
        boolean forSelf = requester.equals(person.id());
        if (!forSelf) {
            Access.OPEN_FOR_OTHERS.require(person, kind.desk());
        }
        JsonNode fields = Json.of(wanted.fields());
        check(wanted, kind, fields);
        Person meant = forSelf
                ? person
                : people.find(requester)
                        .orElseThrow(
                                () -> new InvalidCase(List.of("requester: there is no person ‘" + requester + "’")));
        offered(meant, kind);
        Proof proof = forSelf ? Proof.SIGNED_IN : Proof.CLAIMED;
        String id = writer.write(tx -> {
            Optional<CaseRow> earlier = earlier(tx, person.id(), key, digest);
            if (earlier.isPresent()) {
                return earlier.get().id();
            }
            notTooMany(tx, requester);
            Arrival arrival = new Arrival("", Channel.NOTE, proof, person, Map.of());
            CaseRow row = insert(tx, wanted, kind, requester, arrival, null, fields, NOTHING);
            if (key != null) {
                caseStore.insertRequestKey(person.id(), key, digest, row.id());
            }
            return row.id();
        });
        return caseStore.find(id).orElseThrow();
    }

    private void notTooMany(LedgerTransaction tx, String requester) {
        if (settings.casesPerHour() == 0) {
            return;
        }
        boolean tooMany = caseStore
                .openedBack(requester, settings.casesPerHour() - 1)
                .filter(opened -> opened.isAfter(tx.now().minus(HOUR)))
                .isPresent();
        if (tooMany) {
            throw new TooMany("More than " + settings.casesPerHour()
                    + " cases were opened for the same person within an hour. Nothing was opened; wait a while, or write "
                    + "to the desk in a case there is.");
        }
    }

    private String known() {
        return editions.current()
                .map(edition -> "; known are "
                        + String.join(
                                ", ",
                                new java.util.TreeSet<>(
                                        edition.handbook().kinds().keySet())))
                .orElse("; no handbook has been published yet");
    }

    private static void check(NewCase wanted, Kind kind, JsonNode fields) {
        List<String> wrong = new java.util.ArrayList<>();
        if (wanted.subject() == null || wanted.subject().isBlank()) {
            wrong.add("subject: say in a few words what it is about");
        } else if (wanted.subject().length() > LONGEST_SUBJECT) {
            wrong.add("subject: at most " + LONGEST_SUBJECT + " characters, this has "
                    + wanted.subject().length());
        }
        if (wanted.text() != null && wanted.text().length() > LONGEST_TEXT) {
            wrong.add("text: at most " + LONGEST_TEXT + " characters, this has "
                    + wanted.text().length());
        }
        if (wanted.language() != null && !wanted.language().matches("[a-z]{2,3}(-[A-Za-z0-9]{2,8})?")) {
            wrong.add("language: write it as in BCP 47, such as en or de");
        }
        wrong.addAll(InvalidCase.wrongWith("fields", kind.violations(fields)));
        if (!wrong.isEmpty()) {
            throw new InvalidCase(wrong);
        }
    }

    private Optional<CaseRow> earlier(LedgerTransaction tx, String person, @Nullable String key, String digest) {
        if (key == null) {
            return Optional.empty();
        }
        Optional<RequestKeyRow> row = caseStore.requestKey(person, key);
        if (row.isPresent() && !row.get().digest().equals(digest)) {
            throw new InvalidCase(List.of("Idempotency-Key: this key was used for another case, "
                    + row.get().caseId() + "; use a new key"));
        }
        return row.flatMap(found -> caseStore.find(found.caseId()));
    }

    private CaseRow insert(
            LedgerTransaction tx,
            NewCase wanted,
            Kind kind,
            String requester,
            Arrival arrival,
            @Nullable ForAnother opened,
            JsonNode fields,
            Consumer<CaseRow> brought) {
        String by = by(requester, arrival, opened);
        Duration within = opened != null && opened.within() != null ? opened.within() : kind.resolveWithin();
        long number = tx.nextCaseNumber();
        String id = "C-" + number;
        CaseRow row = new CaseRow(
                id,
                number,
                kind.desk(),
                kind.name(),
                requester,
                arrival.proof().word(),
                arrival.channel().word(),
                by,
                wanted.subject().strip(),
                "",
                wanted.text() == null ? "" : wanted.text().strip(),
                wanted.language() == null ? "en" : wanted.language(),
                Priority.NORMAL.word(),
                "[]",
                Json.write(fields),
                CaseState.OPEN.word(),
                null,
                within == null ? null : tx.now().plus(within),
                opened == null ? "" : opened.owner(),
                opened == null ? null : opened.row().id(),
                tx.now(),
                tx.now(),
                1);
        caseStore.insert(tx, row);
        if (!arrival.relations().isEmpty()) {
            tx.store().change(id, Json.object().set("relations", Json.of(arrival.relations())));
        }
        var data = Json.object()
                .put("kind", row.kind())
                .put("subject", row.subject())
                .put("text", row.text())
                .put("requester", requester)
                .put("proof", arrival.proof().word());
        data.set("fields", fields);
        if (!arrival.intake().isEmpty()) {
            data.put("intake", arrival.intake());
        }
        if (opened != null) {
            data.put("opened-for", opened.row().id()).put("owner", opened.owner());
        }
        String actor = opened == null ? TrailEvent.person(by) : TrailEvent.agent(opened.agent());
        tx.trail(id, "", new TrailEvent(actor, TrailWord.CASE_OPENED, "", data));
        brought.accept(row);
        engine.open(tx.store(), id, row.kind());
        return row;
    }

    /** Who opened a case. Of one that was opened for another they are who asked for that: nobody of them decides on either. */
    private static String by(String requester, Arrival arrival, @Nullable ForAnother opened) {
        if (opened != null) {
            CaseRow other = opened.row();
            return other.requester().equals(requester) ? other.openedBy() : other.requester();
        }
        return arrival.by() == null ? requester : arrival.by().id();
    }

    /** Adds a person's note: the requester's own words, or staff's, for the requester or for staff only. */
    public NoteRow note(Person person, String caseId, String text, boolean forStaff) {
        if (text == null || text.isBlank() || text.length() > LONGEST_TEXT) {
            throw new InvalidCase(List.of("text: a note needs between 1 and " + LONGEST_TEXT + " characters"));
        }
        return writer.write(tx -> {
            CaseRow row = caseStore.seenBy(person, caseId);
            Access.ADD_TO_CASE.require(person, row);
            if (forStaff) {
                Access.WRITE_STAFF_NOTES.require(person, row);
            }
            String id = "N-" + UUID.randomUUID();
            NoteRow note = new NoteRow(
                    id,
                    caseId,
                    tx.now(),
                    TrailEvent.person(person.id()),
                    (forStaff ? Audience.STAFF : Audience.REQUESTER).word(),
                    false,
                    text.strip(),
                    Channel.NOTE.word(),
                    "",
                    "",
                    "");
            add(tx, row, note);
            if (row.requester().equals(person.id()) && !forStaff) {
                answered(tx, row, note, person.name());
            }
            return note;
        });
    }

    /** A person of the desk says what was done, and the case is resolved. */
    public CaseRow resolve(Person person, String caseId, String how) {
        return writer.write(tx -> {
            CaseRow row = caseStore.seenBy(person, caseId);
            Access.RESOLVE_CASE.require(person, row);
            if (how == null || how.isBlank() || how.length() > LONGEST_TEXT) {
                throw new InvalidCase(List.of(
                        "how: say in 1 to " + LONGEST_TEXT + " characters what was done, for those who come after"));
            }
            String id = "N-" + UUID.randomUUID();
            runControl.resolve(
                    tx.store(),
                    caseId,
                    person.id(),
                    new EngineStore.Note(
                            id, TrailEvent.person(person.id()), Audience.STAFF.word(), false, how.strip()));
            return caseStore.find(caseId).orElseThrow();
        });
    }

    /** Whoever asked takes it back. */
    public CaseRow withdraw(Person person, String caseId, @Nullable String why) {
        String said = why == null ? "" : why.strip();
        if (said.length() > LONGEST_TEXT) {
            throw new InvalidCase(List.of("why: at most " + LONGEST_TEXT + " characters"));
        }
        return writer.write(tx -> {
            CaseRow row = caseStore.seenBy(person, caseId);
            Access.WITHDRAW_CASE.require(person, row);
            runControl.withdraw(tx.store(), caseId, person.id(), said);
            return caseStore.find(caseId).orElseThrow();
        });
    }

    /** Starts a page on a case by hand. */
    public String startPage(Person person, String caseId, String page) {
        return writer.write(tx -> {
            CaseRow row = caseStore.seenBy(person, caseId);
            Access.START_PAGE.require(person, row);
            return runControl.start(tx.store(), row.id(), page, person.id());
        });
    }
}
