package servitor.service.intake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.connectors.access.Credentials;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.service.Precondition;
import servitor.service.cases.Cases;
import servitor.service.cases.InvalidCase;
import servitor.service.cases.TooMany;
import servitor.service.connections.Connections;
import servitor.service.connections.SignInForm;
import servitor.service.editions.Editions;
import servitor.service.intake.Taken.Outcome;
import servitor.service.ledger.MemoryHouse;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import servitor.service.people.Role;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunSteering;

/** Messages of outside systems, without a port: each becomes one thing, whoever sends it and however often. */
class EventIntakeTests {
    private static final String SECRET = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw";
    private static final String LOST = """
            title: Lost at a kiosk
            from: webhook
            connection: kiosk-hooks
            kind: lost-thing
            message: { number: text, passenger: text, thing: text }
            when: message.thing != 'nothing'
            requester: "${message.passenger}"
            subject: "Lost: ${message.thing}"
            fields: { thing: "${message.thing}" }
            relations: { item: "${message.number}" }
            belongs-to: message.number in case.relations.item
            """;

    @TempDir
    private static Path data;

    private static MemoryHouse house;
    private static int tests;
    private Hooks hooks;
    private Person sunniva;
    private String passenger;

    @BeforeAll
    static void open() {
        house = new MemoryHouse("events", data);
        house.change("alter table case_relation add constraint breaks check (other <> 'breaks')");
        house.person("watch-of-it", Set.of(Role.RESOLVER), "it");
        publish("lost", LOST);
        publish("counted", LOST + "count-within: PT30M\n");
        publish("log", """
                title: The log of the pumps
                from: lines
                connection: kiosk-hooks
                pattern: "ERROR (?P<unit>[a-z0-9-]+): (?P<what>.*)$"
                kind: lost-thing
                requester: ines-of-the-log
                belongs-to: case.fields.thing == message.unit
                count-within: PT30M
                subject: "${message.unit}: ${message.what}"
                fields: { thing: "${message.unit}" }
                relations: { unit: "${message.unit}" }
                """);
        publish("anything", LOST.replace("message.number in case.relations.item", "case.id == message.number"));
        publish("of-it", """
                title: Something of the it desk
                from: webhook
                connection: kiosk-hooks
                kind: kit-wish
                message: { number: text, passenger: text, thing: text }
                requester: watch-of-it
                subject: "${message.thing}"
                """);
        publish("at-a-header", LOST.replace("kiosk-hooks", "kiosk-header"));
        publish("not-set", LOST.replace("kiosk-hooks", "not-set-at-all"));
        connect("kiosk-hooks", "hook:signed?vouches=yes", form("signature", SECRET, null));
        connect("kiosk-header", "hook:signed", form("hmac", "sixteen-letters-at-least", "X-Sign"));
    }

    private static SignInForm form(String kind, String secret, String header) {
        return new SignInForm(kind, null, secret, header, null, null, null, null, null);
    }

    private static void connect(String name, String url, SignInForm form) {
        house.get(Connections.class)
                .put(name, new Connections.Settings(url, null, form, null), "admin", Precondition.NONE);
    }

    private static void publish(String name, String intake) {
        Editions editions = house.get(Editions.class);
        Map<String, String> files = new HashMap<>(
                editions.current().map(Edition::number).map(editions::files).orElseGet(DemoHandbook::files));
        files.put("intake/" + name + ".yaml", intake);
        editions.publish(files, "", "admin");
    }

    /** People of its own for each test, as they are counted by. */
    @BeforeEach
    void meet() {
        tests++;
        hooks = house.get(Hooks.class);
        sunniva = house.person("sunniva" + tests, Set.of(Role.RESOLVER), "passengers");
        passenger = "passenger" + tests;
        house.person(passenger, Set.of(Role.REQUESTER));
    }

    @AfterAll
    static void close() {
        house.close();
    }

    private String lost(String number, String thing) {
        return "{\"number\": \"" + number + "\", \"passenger\": \"" + passenger + "\", \"thing\": \"" + thing
                + "\", \"secret\": \"never kept in a case\"}";
    }

    private static Hooks.Posted signed(String id, String body) {
        String seconds = String.valueOf(Instant.now().getEpochSecond());
        byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
        Map<String, String> headers = Map.of(
                "webhook-id", id,
                "webhook-timestamp", seconds,
                "webhook-signature", "v1," + new Credentials.Signing(SECRET).sign(id, seconds, bytes));
        return new Hooks.Posted("application/json", headers::get, bytes);
    }

    private Taken take(String intake, String id, String body) throws Hooks.Refused, Hooks.NotSetUp {
        List<Taken> taken = hooks.takeSigned(intake, signed(id, body)).orElseThrow();
        assertThat(taken).hasSize(1);
        return taken.get(0);
    }

    private long cases() {
        return (Long) house.row("select count(*) as n from case_record where requester = ?", passenger)
                .get("N");
    }

    @Test
    void whatASystemSignsOpensACaseAndIsBelievedWhomItNames() throws Hooks.Refused, Hooks.NotSetUp {
        Taken taken = take("lost", "m-" + tests, lost("n" + tests, "a scarf"));
        assertThat(taken.outcome()).isEqualTo(Outcome.OPENED);
        assertThat(house.row(
                        "select requester, proof, channel, opened_by from case_record where id = ?", taken.caseId()))
                .containsEntry("REQUESTER", passenger)
                .containsEntry("PROOF", "verified")
                .containsEntry("CHANNEL", "webhook");
        assertThat(house.trail(taken.caseId())).startsWith("case-opened").contains("event-taken-in");
        assertThat(house.row("select what, other from case_relation where case_id = ?", taken.caseId()))
                .containsEntry("OTHER", "n" + tests);
    }

    @Test
    void theSameMessageIsKnownAndAnotherAboutTheSameComesToItsCase() throws Hooks.Refused, Hooks.NotSetUp {
        Taken first = take("lost", "m-" + tests, lost("n" + tests, "a scarf"));
        assertThat(take("lost", "m-" + tests, lost("n" + tests, "a scarf")))
                .isEqualTo(new Taken(Outcome.KNOWN, first.caseId(), ""));
        Taken second = take("lost", "m2-" + tests, lost("n" + tests, "a red scarf"));
        assertThat(second).isEqualTo(new Taken(Outcome.JOINED, first.caseId(), ""));
        assertThat(house.row("select text, author, audience, channel from note where case_id = ?", first.caseId()))
                .containsEntry("TEXT", "Lost: a red scarf")
                .containsEntry("AUTHOR", "outside:lost")
                .containsEntry("AUDIENCE", "staff")
                .containsEntry("CHANNEL", "webhook");
        assertThat(cases()).isEqualTo(1);
    }

    @Test
    void aCaseThatIsDoneWithTakesNoMore() throws Hooks.Refused, Hooks.NotSetUp {
        Taken first = take("lost", "m-" + tests, lost("n" + tests, "a scarf"));
        RunSteering steering = house.get(RunSteering.class);
        String id = (String) house.row("select id from run where case_id = ?", first.caseId())
                .get("ID");
        RunRow run = steering.find(sunniva, id).orElseThrow();
        steering.steer(sunniva, run, (control, store) -> control.stop(store, id, sunniva.id(), "Found by somebody."));
        house.get(Cases.class).resolve(sunniva, first.caseId(), "Found.");
        Taken second = take("lost", "m2-" + tests, lost("n" + tests, "a scarf"));
        assertThat(second.outcome()).isEqualTo(Outcome.OPENED);
        assertThat(second.caseId()).isNotEqualTo(first.caseId());
    }

    @Test
    void aCaseOfAnotherDeskIsReachedByNoMessageThatNamesIt() throws Hooks.Refused, Hooks.NotSetUp {
        Taken theirs = take("of-it", "m-" + tests, lost("n" + tests, "kiosk-" + tests));
        assertThat(house.row("select desk from case_record where id = ?", theirs.caseId()))
                .containsEntry("DESK", "it");
        Taken ours = take("anything", "m2-" + tests, lost(theirs.caseId(), "a scarf"));
        assertThat(ours.outcome()).isEqualTo(Outcome.OPENED);
        assertThat(take("anything", "m3-" + tests, lost(ours.caseId(), "a scarf"))
                        .caseId())
                .as("one of its own desk that it names in the same way")
                .isEqualTo(ours.caseId());
        assertThat(house.row("select count(*) as n from note where case_id = ?", theirs.caseId()))
                .containsEntry("N", 0L);
    }

    @Test
    void repeatsAreCountedOnTheirCase() throws Hooks.Refused, Hooks.NotSetUp {
        Taken first = take("counted", "m-" + tests, lost("n" + tests, "a scarf"));
        for (int i = 0; i < 14; i++) {
            assertThat(take("counted", "m" + i + "-" + tests, lost("n" + tests, "a scarf")))
                    .isEqualTo(new Taken(Outcome.COUNTED, first.caseId(), ""));
        }
        assertThat(take("counted", "m3-" + tests, lost("n" + tests, "a scarf")).outcome())
                .as("one of them again")
                .isEqualTo(Outcome.KNOWN);
        assertThat(house.row("select count(*) as n from note where case_id = ?", first.caseId()))
                .containsEntry("N", 0L);
        assertThat(house.get(EventStore.class).repeats(first.caseId()))
                .singleElement()
                .extracting(RepeatRow::times)
                .isEqualTo(14L);
    }

    @Test
    void aBatchBecomesEachThingOnce() throws Hooks.Refused, Hooks.NotSetUp {
        List<String> events = new ArrayList<>();
        for (int i = 0; i < 250; i++) {
            events.add("{\"specversion\": \"1.0\", \"type\": \"lost\", \"source\": \"/kiosks\", \"id\": \"b" + (i % 200)
                    + "-" + tests + "\", \"data\": "
                    + (i == 7 ? lost("none" + tests, "nothing") : lost("n" + (i % 3) + "-" + tests, "a scarf"))
                    + "}");
        }
        Hooks.Posted plain = signed("batch-" + tests, "[" + String.join(",", events) + "]");
        Hooks.Posted batch = new Hooks.Posted("application/cloudevents-batch+json", plain.header(), plain.body());
        List<Taken> taken = hooks.takeSigned("counted", batch).orElseThrow();
        assertThat(taken).hasSize(250);
        assertThat(taken).filteredOn(one -> one.outcome() == Outcome.OPENED).hasSize(3);
        assertThat(taken).filteredOn(one -> one.outcome() == Outcome.KNOWN).hasSize(49);
        assertThat(taken).filteredOn(one -> one.outcome() == Outcome.LEFT_OUT).hasSize(1);
        assertThat(taken)
                .filteredOn(one -> one.outcome() == Outcome.COUNTED)
                .as("the one that was left out, too, since it says something else the second time")
                .hasSize(197);
        assertThat(cases()).isEqualTo(3);
        assertThat(hooks.takeSigned("counted", batch).orElseThrow())
                .as("all of it again")
                .allMatch(one -> one.outcome() == Outcome.KNOWN);
    }

    @Test
    void oneThatBreaksStopsNoOtherOfItsBatch() throws Hooks.Refused, Hooks.NotSetUp {
        List<String> events = new ArrayList<>();
        for (int i = 0; i < 3; i++) {
            events.add("{\"specversion\": \"1.0\", \"type\": \"lost\", \"source\": \"/kiosks\", \"id\": \"x" + i + "-"
                    + tests + "\", \"data\": " + lost(i == 1 ? "breaks" : "n" + i + "-" + tests, "a scarf") + "}");
        }
        Hooks.Posted plain = signed("batch-" + tests, "[" + String.join(",", events) + "]");
        Hooks.Posted batch = new Hooks.Posted("application/cloudevents-batch+json", plain.header(), plain.body());
        assertThat(hooks.takeSigned("lost", batch).orElseThrow())
                .extracting(Taken::outcome)
                .containsExactly(Outcome.OPENED, Outcome.INVALID, Outcome.OPENED);
        assertThat(cases()).isEqualTo(2);
    }

    @Test
    void theSameMessageFromManySidesAtOnceOpensOneCase() throws Exception {
        ExecutorService many = Executors.newFixedThreadPool(8);
        try {
            List<Callable<Taken>> sent = new ArrayList<>();
            for (int i = 0; i < 16; i++) {
                int copy = i;
                sent.add(() -> take("lost", "m" + copy % 2 + "-" + tests, lost("n" + tests, "a scarf")));
            }
            List<Outcome> outcomes = new ArrayList<>();
            for (Future<Taken> one : many.invokeAll(sent)) {
                outcomes.add(one.get().outcome());
            }
            assertThat(outcomes).filteredOn(Outcome.OPENED::equals).hasSize(1);
            assertThat(outcomes).filteredOn(Outcome.JOINED::equals).hasSize(1);
            assertThat(cases()).isEqualTo(1);
        } finally {
            many.shutdownNow();
        }
    }

    @Test
    void linesOpenACaseForWhatTheyAreAboutAndRepeatsAreCounted() throws Hooks.Refused, Hooks.NotSetUp {
        house.person("ines-of-the-log", Set.of(Role.REQUESTER));
        String pump = "pump-" + tests;
        String lines = ("09:02 INFO all is well\n" + "09:02 ERROR " + pump + ": no pressure\n").repeat(300) + "\n";
        Hooks.Posted posted = signed("log-" + tests, lines);
        List<Taken> taken = hooks.takeSigned("log", posted).orElseThrow();
        assertThat(taken).filteredOn(one -> one.outcome() == Outcome.OPENED).hasSize(1);
        assertThat(taken).filteredOn(one -> one.outcome() == Outcome.COUNTED).hasSize(299);
        assertThat(taken).filteredOn(one -> one.outcome() == Outcome.LEFT_OUT).hasSize(300);
        assertThat(hooks.takeSigned("log", posted).orElseThrow())
                .as("all of it again")
                .allMatch(one -> one.outcome() == Outcome.KNOWN);
        assertThat(house.row("select count(*) as n, max(named) as named from outside_event where intake = 'log'"))
                .containsEntry("N", 1L)
                .containsEntry("NAMED", "600 lines");
        assertThat(house.get(EventStore.class).repeats(taken.get(1).caseId()))
                .singleElement()
                .extracting(RepeatRow::times)
                .isEqualTo(299L);
        assertThat(hooks.takeSigned(
                                "log",
                                signed(
                                        "broken-" + tests,
                                        "ERROR a" + pump + ": x\nERROR breaks: x\nERROR b" + pump + ": x"))
                        .orElseThrow())
                .extracting(Taken::outcome)
                .as("a line that breaks stops no other")
                .containsExactly(Outcome.OPENED, Outcome.INVALID, Outcome.OPENED);
        assertThat(take("log", "one-more-" + tests, "09:09 ERROR " + pump + ": on fire")
                        .outcome())
                .as("it says something else")
                .isEqualTo(Outcome.JOINED);
    }

    @Test
    void whoSignsWithSomethingElseIsRefusedAndCounted() {
        Hooks.Posted posted = signed("m-" + tests, lost("n" + tests, "a scarf"));
        Hooks.Posted changed = new Hooks.Posted(
                posted.type(), posted.header(), lost("n" + tests, "a ring").getBytes(StandardCharsets.UTF_8));
        assertThatThrownBy(() -> hooks.takeSigned("lost", changed)).isInstanceOf(Hooks.Refused.class);
        assertThatThrownBy(() -> hooks.takeSigned("lost", changed)).isInstanceOf(Hooks.Refused.class);
        assertThat(cases()).isZero();
        assertThat(house.get(EventIntake.class)
                        .latest(sunniva, "lost")
                        .orElseThrow()
                        .refused())
                .singleElement()
                .satisfies(row -> {
                    assertThat(row.reason()).contains("signature");
                    assertThat(row.times()).isEqualTo(2);
                });
        assertThatThrownBy(() -> hooks.takeSigned("not-set", posted)).isInstanceOf(Hooks.NotSetUp.class);
        house.get(EventIntake.class).writeRefused();
        assertThat(house.row("select sum(times) as n from hook_refusal where intake = 'lost'"))
                .as("written once")
                .containsEntry("N", new java.math.BigDecimal(2));
    }

    @Test
    void whatTheConditionLeavesOutReachesTheCaseThatIsOpen() throws Hooks.Refused, Hooks.NotSetUp {
        assertThat(take("lost", "m-" + tests, lost("n" + tests, "nothing")).outcome())
                .as("before there is a case")
                .isEqualTo(Outcome.LEFT_OUT);
        Taken first = take("lost", "m2-" + tests, lost("n" + tests, "a scarf"));
        assertThat(take("lost", "m3-" + tests, lost("n" + tests, "nothing")))
                .isEqualTo(new Taken(Outcome.JOINED, first.caseId(), ""));
    }

    @Test
    void aBodyThatIsSignedWithoutAnIdCountsOnce() throws Hooks.Refused, Hooks.NotSetUp {
        byte[] body = lost("n" + tests, "a scarf").getBytes(StandardCharsets.UTF_8);
        String signature = Base64.getEncoder()
                .encodeToString(new Credentials.Hmac("X-Sign", "sixteen-letters-at-least").sign("sha256", body));
        Hooks.Posted posted = new Hooks.Posted("application/json", Map.of("X-Sign", signature)::get, body);
        Taken first = hooks.takeSigned("at-a-header", posted).orElseThrow().get(0);
        assertThat(first.outcome()).isEqualTo(Outcome.OPENED);
        assertThat(house.row("select proof from case_record where id = ?", first.caseId()))
                .as("nobody said that its word is believed")
                .containsEntry("PROOF", "claimed");
        assertThat(hooks.takeSigned("at-a-header", posted).orElseThrow().get(0).outcome())
                .as("played again")
                .isEqualTo(Outcome.KNOWN);
        Map<String, String> more = Map.of(
                "X-Sign", signature,
                "webhook-id", "another",
                "ce-specversion", "1.0",
                "ce-id", "another",
                "ce-source", "/elsewhere",
                "ce-type", "lost");
        assertThat(hooks.takeSigned("at-a-header", new Hooks.Posted("application/json", more::get, body))
                        .orElseThrow()
                        .get(0)
                        .outcome())
                .as("played again under names that nobody has signed")
                .isEqualTo(Outcome.KNOWN);
        assertThatThrownBy(() -> hooks.takeSigned(
                        "at-a-header", new Hooks.Posted("application/cloudevents+json", more::get, body)))
                .isInstanceOf(InvalidCase.class);
        assertThat(hooks.takeSigned("at-a-header", posted).orElseThrow().get(0).outcome())
                .as("after it was sent as what it is not")
                .isEqualTo(Outcome.KNOWN);
    }

    @Test
    void whatCannotBecomeACaseIsKeptWithTheReasonAndMayBeSentAgain() throws Hooks.Refused, Hooks.NotSetUp {
        Taken wrong = take("lost", "m-" + tests, "{\"number\": 7}");
        assertThat(wrong.outcome()).isEqualTo(Outcome.INVALID);
        assertThat(wrong.why()).contains("thing");
        Taken nobody = take("lost", "m2-" + tests, lost("n" + tests, "a scarf").replace(passenger, "nobody-at-all"));
        assertThat(nobody.why()).contains("nobody-at-all");
        assertThat(take("lost", "m-" + tests, lost("n" + tests, "a scarf")).outcome())
                .as("as it should have been")
                .isEqualTo(Outcome.OPENED);
        assertThatThrownBy(() -> take("lost", "m3-" + tests, "{")).isInstanceOf(InvalidCase.class);
        assertThat(house.get(EventIntake.class)
                        .latest(sunniva, "lost")
                        .orElseThrow()
                        .events())
                .extracting(EventRow::became)
                .contains("invalid", "opened");
    }

    @Test
    void oneMessageTooManyMayBeSentAgainLater() throws Hooks.Refused, Hooks.NotSetUp {
        for (int i = 0; i < MemoryHouse.CASES_PER_HOUR; i++) {
            take("lost", "m" + i + "-" + tests, lost("n" + i + "-" + tests, "a scarf"));
        }
        assertThatThrownBy(() -> take("lost", "one-more-" + tests, lost("more" + tests, "a scarf")))
                .isInstanceOf(TooMany.class);
        assertThat(house.row("select count(*) as n from outside_event where named = ?", "one-more-" + tests))
                .containsEntry("N", 0L);
    }

    @Test
    void whatItSaidIsSeenAtItsDeskAloneAndForgottenInTime() throws Hooks.Refused, Hooks.NotSetUp {
        take("lost", "m-" + tests, lost("n" + tests, "a scarf"));
        EventIntake events = house.get(EventIntake.class);
        String id = events.latest(sunniva, "lost").orElseThrow().events().get(0).id();
        assertThat(events.find(sunniva, "lost", id).orElseThrow().payload()).isPresent();
        Person teun = house.person("teun" + tests, Set.of(Role.RESOLVER), "it");
        assertThat(events.latest(teun, "lost")).isEmpty();
        assertThat(events.find(teun, "lost", id)).isEmpty();
        assertThat(events.find(sunniva, "counted", id)).as("under another name").isEmpty();
        assertThatThrownBy(() -> hooks.take(teun, "lost", signed("x", "{}"))).isInstanceOf(NotAllowed.class);

        house.get(EventStore.class).forget(Instant.now().plusSeconds(60));
        assertThat(events.find(sunniva, "lost", id).orElseThrow().payload()).isEmpty();
        assertThat(take("lost", "m-" + tests, lost("n" + tests, "a scarf")).outcome())
                .isEqualTo(Outcome.KNOWN);
    }
}
