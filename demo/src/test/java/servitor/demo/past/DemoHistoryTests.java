package servitor.demo.past;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.cli.command.HandbookFolder;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;
import servitor.core.rehearsal.LookBack;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import servitor.demo.WholeService;
import servitor.demo.past.DemoHistory.Played;
import servitor.demo.past.Script.Asked;
import servitor.service.editions.Editions;
import servitor.service.lookback.LookBacks;
import servitor.service.lookback.LookBacks.CaseMade;
import servitor.service.people.Person;
import servitor.service.people.Role;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

class DemoHistoryTests {
    private static final int DAYS = 5;

    @Test
    void aPastLeavesWhatTheServiceWouldHaveLeft(@TempDir Path folder) throws Exception {
        Path data = Files.createDirectories(folder.resolve("data"));
        Instant before = Instant.now();
        Played played =
                DemoHistory.play(data, Path.of("handbook"), DAYS, new PrintStream(PrintStream.nullOutputStream()));
        assertThat(played.cases()).isGreaterThan(20);
        assertThat(played.states()).containsKeys("resolved", "waiting");
        try (Connection ledger = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "")) {
            assertThat(one(ledger, "select count(*) from trail")).isEqualTo(played.entries());
            assertThat(one(ledger, "select count(*) from command where state = 'taken'"))
                    .as("calls left half done")
                    .isZero();
            assertThat(one(ledger, "select count(*) from approval where state = 'open'"))
                    .as("something is left to do today")
                    .isPositive();
            assertThat(one(ledger, "select count(distinct actor) from trail where what = 'approval-answered'"))
                    .as("several people answer")
                    .isGreaterThan(2);
            assertThat(one(ledger, "select count(distinct proof) from case_record where channel = 'mail'"))
                    .as("some mails are proven, some aren't")
                    .isEqualTo(2);
            assertThat(at(ledger, "select min(at) from trail")).isBefore(before.minus(Duration.ofDays(DAYS - 1)));
            assertThat(at(ledger, "select max(at) from trail")).isBefore(before);
        }
        assertThat(Files.readAllLines(data.resolve("standins/refunds.jsonl"))).isNotEmpty();
    }

    /** The trail says by itself in which cases a refund above {@code limit} was paid with nobody asked. */
    private static Set<String> paidAloneAbove(Path data, double limit) throws SQLException {
        Set<String> cases = new TreeSet<>();
        Map<String, Double> wanted = new HashMap<>();
        try (Connection ledger = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "");
                Statement statement = ledger.createStatement();
                ResultSet row = statement.executeQuery("select t.case_id, t.what, d.data from trail t join trail_data d"
                        + " on d.seq = t.seq where t.what in ('call-proposed', 'verdict') and d.data like"
                        + " '%fares.pay-refund%' order by t.seq")) {
            while (row.next()) {
                JsonNode entry = Json.read(row.getString(3), JsonNode.class);
                if (row.getString(2).equals("call-proposed")) {
                    wanted.put(row.getString(1), entry.at("/inputs/amount").asDouble(0));
                } else if (entry.path("verdict").asString("").equals("allow") && wanted.get(row.getString(1)) > limit) {
                    cases.add(row.getString(1));
                }
            }
        }
        return cases;
    }

    /** What differs from one play to the next: ids, times, and what an answer cost. */
    private static final Set<String> OF_ONE_TIME = Set.of(
            "key",
            "approval",
            "shown",
            "via",
            "for",
            "tokens",
            "cost",
            "estimated",
            "model",
            "material",
            "until",
            "edition",
            "sheet");

    /** What machines write into the trail of a run. */
    private static final Set<TrailWord> BY_THE_MACHINE = EnumSet.of(
            TrailWord.RUN_STARTED,
            TrailWord.STEP,
            TrailWord.DECIDED,
            TrailWord.PROBLEM,
            TrailWord.ARRIVED,
            TrailWord.PAGE_FOLLOWED,
            TrailWord.PAGE_GAVE,
            TrailWord.ITEM_ENDED,
            TrailWord.CASE_CHANGED,
            TrailWord.MODEL_ASKED,
            TrailWord.DRAFTED,
            TrailWord.ASSESSED,
            TrailWord.PURSUED,
            TrailWord.CALL_PROPOSED,
            TrailWord.VERDICT,
            TrailWord.CALL_ANSWERED,
            TrailWord.APPROVAL_OPENED,
            TrailWord.APPROVAL_ANSWERED,
            TrailWord.HANDED_OVER,
            TrailWord.RUN_FINISHED);

    private record Done(String step, TrailWord what, JsonNode data) {}

    private static Map<String, List<Done>> byRun(List<RecordedEntry> trail) {
        Map<String, List<Done>> runs = new TreeMap<>();
        for (RecordedEntry entry : trail) {
            TrailWord what = TrailWord.of(entry.entry().what()).orElseThrow();
            if (BY_THE_MACHINE.contains(what) && !entry.entry().runId().isEmpty() && entry.data() != null) {
                ObjectNode data = (ObjectNode) entry.data().deepCopy();
                data.remove(OF_ONE_TIME);
                runs.computeIfAbsent(entry.entry().runId(), run -> new ArrayList<>())
                        .add(new Done(entry.entry().step(), what, Json.read(Json.write(data), JsonNode.class)));
            }
        }
        return runs;
    }

    private static Set<String> cases(Path data) throws SQLException {
        Set<String> cases = new TreeSet<>();
        try (Connection ledger = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "");
                Statement statement = ledger.createStatement();
                ResultSet row = statement.executeQuery("select id from case_record")) {
            while (row.next()) {
                cases.add(row.getString(1));
            }
        }
        return cases;
    }

    /** How many past cases come again entry by entry, run by run; fails where one doesn't. */
    private static int repeated(LookBacks lookBacks, Set<String> cases) {
        int repeated = 0;
        for (String id : cases) {
            LookBacks.Beside beside = lookBacks.beside(MAREN, id).orElse(null);
            if (beside != null && beside.made() instanceof LookBack.Same same) {
                byRun(same.played().trail())
                        .forEach((run, entries) -> assertThat(entries)
                                .as(id + ", " + run)
                                .containsExactlyElementsOf(
                                        byRun(beside.past().trail()).getOrDefault(run, List.of())));
                repeated++;
            }
        }
        return repeated;
    }

    private static final Person MAREN =
            new Person("maren", "Maren", "", "", Set.of(Role.ENGINEER), Set.of("passengers", "it", "people"), Set.of());

    private static LookBacks.Progress lookBack(LookBacks lookBacks, Edition edition) {
        lookBacks.begin(MAREN, "an edition", edition, Duration.ofDays(100), null, 0);
        LookBacks.Progress progress = lookBacks.progress(MAREN).orElseThrow();
        while (!progress.state().equals("done")) {
            Thread.onSpinWait();
            progress = lookBacks.progress(MAREN).orElseThrow();
        }
        return progress;
    }

    @Test
    void thePastDecidedAgainIsTheSameAndAPlantedChangeIsFoundWhereItMatters(@TempDir Path folder) throws Exception {
        Path data = Files.createDirectories(folder.resolve("data"));
        DemoHistory.play(data, Path.of("handbook"), DAYS, new PrintStream(PrintStream.nullOutputStream()));
        Set<String> cases = cases(data);
        Set<String> expected = paidAloneAbove(data, 60);
        assertThat(expected).isNotEmpty();
        try (ConfigurableApplicationContext service = WholeService.start(data, Clock.systemUTC())) {
            LookBacks lookBacks = service.getBean(LookBacks.class);
            LookBacks.Progress itself = lookBack(
                    lookBacks, service.getBean(Editions.class).current().orElseThrow());
            assertThat(itself.same()).isGreaterThan(20);
            assertThat(itself.made())
                    .as("all that has ended is decided as it was")
                    .allMatch(one -> one.after().equals("it isn't done yet"));

            assertThat(repeated(lookBacks, cases))
                    .as("cases that come again entry by entry")
                    .isGreaterThan(20);

            Map<String, String> files = new TreeMap<>(HandbookFolder.read(Path.of("handbook")));
            files.computeIfPresent("mandates/purser.yaml", (path, text) -> text.replace("<= 120.0", "<= 60.0"));
            LookBacks.Progress stricter =
                    lookBack(lookBacks, new Edition(2, CheckedHandbook.of(files).handbook()));
            Set<String> waiting = itself.made().stream().map(CaseMade::caseId).collect(Collectors.toSet());
            expected.removeAll(waiting);
            assertThat(stricter.made().stream()
                            .filter(one -> one.made().equals("other"))
                            .map(CaseMade::caseId))
                    .containsExactlyInAnyOrderElementsOf(expected);
        }
    }

    @Test
    void theScriptIsTheSameEachTimeAndInOrder() {
        Instant start = Instant.parse("2026-08-26T05:00:00Z");
        Instant end = start.plus(Duration.ofDays(90));
        Script script = new Script(start, 90, end, new SplittableRandom(1));
        assertThat(script.asked())
                .isEqualTo(new Script(start, 90, end, new SplittableRandom(1)).asked())
                .hasSizeBetween(360, 480)
                .isSortedAccordingTo(java.util.Comparator.comparing(Asked::at));
        assertThat(script.asked().stream().map(Asked::kind).collect(Collectors.toSet()))
                .hasSize(7);
    }

    private static long one(Connection ledger, String sql) throws SQLException {
        try (Statement statement = ledger.createStatement();
                ResultSet row = statement.executeQuery(sql)) {
            row.next();
            return row.getLong(1);
        }
    }

    private static Instant at(Connection ledger, String sql) throws SQLException {
        try (Statement statement = ledger.createStatement();
                ResultSet row = statement.executeQuery(sql)) {
            row.next();
            return row.getObject(1, OffsetDateTime.class).toInstant();
        }
    }
}
