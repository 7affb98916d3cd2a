package servitor.core.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.DemoHandbook;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.ApprovalState;
import servitor.core.approval.Via;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.json.Json;

/** Until when people may answer, and what has to hold for them to be asked at all. */
class AnswerTimeTests {
    private static final String FRIDAY = "2026-06-05T13:00:00Z"; // 14:00 where the house is

    private final AtomicReference<Instant> clock = new AtomicReference<>(Instant.parse(FRIDAY));
    private final MemoryStore store = new MemoryStore(clock::get, new Calm(), Mirror.NONE);

    private static Map<String, String> files(String keys) {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.put("kinds/boat.yaml", "title: A boat\ndesk: yard\nopen-to: [everybody]\n");
        files.put(
                "desks.yaml",
                files.get("desks.yaml")
                        .replace(
                                "desks:\n",
                                "desks:\n  yard: { title: Yard, hours: { mon-fri: \"08:00-16:00\" }, holidays: [2026-06-08] }\n"));
        files.put(
                "agents/opener.yaml",
                "title: Opener\ndesk: yard\nmodel: writer\nworks: alone\nbrief: { job: j, audience: a }\n");
        files.put(
                "runbooks/boat.md",
                "---\ntitle: Boat\ndesk: yard\nagent: opener\nstarts: [{ on: case-opened, kind: boat }]\n---\n"
                        + "## Ask\n```step\napprove: Launch it?\nof: it-resolvers\n" + keys + "\nsave: said\n```\n"
                        + "## Done\n```step\nfinish: resolved\n```\n");
        return files;
    }

    private Engine engine(String keys) {
        CheckedHandbook checked = CheckedHandbook.of(files(keys));
        assertThat(checked.findings())
                .filteredOn(finding -> finding.place().file().equals("runbooks/boat.md"))
                .noneMatch(finding -> finding.severity().word().equals("error"));
        return new Engine(new OneEdition(new Edition(1, checked.handbook())));
    }

    private void within(Consumer<MemoryBooks> work) {
        store.asSeenByAProcess().commit(raw -> work.accept((MemoryBooks) raw));
    }

    private static String ask(Engine engine, MemoryBooks books) {
        books.openCase(MemoryStore.aCase("c1", "boat", Json.object()));
        return engine.open(books, "c1", "boat").orElseThrow() + "-1";
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "within: PT3H | 2026-06-05T16:00:00Z",
                "within: { working-hours: 3 } | 2026-06-09T08:00:00Z",
                "until: \"2026-06-06T09:00:00Z\" | 2026-06-06T09:00:00Z",
                "until: \"2026-06-06T09:00\" | 2026-06-06T08:00:00Z",
                "until: \"2026-01-01T09:00:00Z\" | 2026-06-05T13:00:00Z",
            })
    void theTimeIsOverThen(String keys, Instant due) {
        Engine engine = engine(keys + "\ngo: { declined: hand over, expired: hand over }");
        within(books -> assertThat(
                        books.approval(ask(engine, books)).orElseThrow().due())
                .isEqualTo(due));
    }

    @Test
    void whereNobodyCanAnswerItIsOverAtOnceIfThePageSaysSo() {
        store.eligible = 0;
        Engine engine = engine("within: P1D\nnobody: expired\ngo: { declined: hand over, expired: done }");
        AtomicReference<String> id = new AtomicReference<>("");
        within(books -> id.set(ask(engine, books)));
        within(books -> new ApprovalAnswers(engine).expire(books, id.get()));
        within(books ->
                assertThat(books.approval(id.get()).orElseThrow().state()).isEqualTo(ApprovalState.EXPIRED));
        assertThat(store.trail)
                .extracting(one -> one.entry().what())
                .contains("approval-expired")
                .doesNotContain("trouble");
    }

    @Test
    void whereNobodyCanAnswerPeopleAreToldOtherwise() {
        store.eligible = 0;
        Engine engine = engine("within: P1D\ngo: { declined: hand over, expired: hand over }");
        within(books -> {
            assertThat(books.approval(ask(engine, books)).orElseThrow().due()).isAfter(clock.get());
        });
        assertThat(store.things.toString()).contains("Nobody of it-resolvers can answer");
    }

    @Test
    void workingHoursOfADeskThatNeverSaidThemAreFound() {
        Map<String, String> files =
                files("within: { working-hours: 8 }\ngo: { declined: hand over, expired: hand over }");
        files.put("desks.yaml", files.get("desks.yaml").replace("hours: { mon-fri: \"08:00-16:00\" }, ", ""));
        assertThat(CheckedHandbook.of(files).findings()).anyMatch(finding -> finding.code() == Code.HOURS);
        files.put("desks.yaml", files.get("desks.yaml").replace("holidays: [2026-06-08]", "hours: { mo: \"8-16\" }"));
        assertThat(CheckedHandbook.of(files).findings())
                .filteredOn(finding -> finding.code() == Code.HOURS)
                .isNotEmpty();
    }

    @Test
    void whatHoldsNoMoreIsWithdrawnAndAnAnswerComesTooLate() {
        Engine engine = engine("valid-while: timestamp(now) < timestamp(\"2026-06-05T14:00:00Z\")\n"
                + "go: { declined: hand over, withdrawn: hand over }");
        ApprovalAnswers answers = new ApprovalAnswers(engine);
        AtomicReference<String> id = new AtomicReference<>("");
        within(books -> id.set(ask(engine, books)));
        within(books -> {
            answers.withdrawUnlessValid(books, id.get());
            assertThat(books.approval(id.get()).orElseThrow().state()).isEqualTo(ApprovalState.OPEN);
        });
        clock.set(Instant.parse("2026-06-05T14:00:01Z"));
        within(books -> {
            KeptApproval kept = books.approval(id.get()).orElseThrow();
            var ruling = answers.answer(
                    books,
                    id.get(),
                    new Answer(
                            "teun",
                            Set.of("it-resolvers"),
                            Set.of(),
                            Says.APPROVE,
                            kept.request().digest(),
                            "",
                            Map.of(),
                            null,
                            Via.CONSOLE));
            assertThat(((Refused) ruling).message()).contains("already withdrawn");
            assertThat(books.approval(id.get()).orElseThrow().state()).isEqualTo(ApprovalState.WITHDRAWN);
            assertThat(books.caseState("c1")).isEqualTo("with-people");
        });
    }

    @Test
    void aConditionThatCantBeToldDoesntHold() {
        Engine engine = engine("valid-while: timestamp(case.subject) < timestamp(now)\n"
                + "go: { declined: hand over, withdrawn: done }");
        ApprovalAnswers answers = new ApprovalAnswers(engine);
        within(books -> {
            String id = ask(engine, books);
            answers.withdrawUnlessValid(books, id);
            assertThat(books.approval(id).orElseThrow().state()).isEqualTo(ApprovalState.WITHDRAWN);
            assertThat(books.caseState("c1")).isEqualTo("resolved");
        });
    }
}
