package servitor.core.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;

/** What an agent's models may use in a day and cost in a run holds, however many runs ask at once. */
class ModelAllowanceTests {
    private static final String PAGE = """
            ---
            title: %s
            desk: it
            agent: thinker
            starts: %s
            limits: { %s }
            ---
            ## Think
            Say which colour the boat has, by what the request says of it, and nothing else at all.
            ```step
            assess: case
            answer: { colour: "one of [red, blue]" }
            save: seen
            ```
            ## %s
            ```step
            %s
            ```
            """;
    private static final LocalDate DAY = LocalDate.of(2026, 6, 1);

    private final AtomicReference<Instant> now = new AtomicReference<>(Instant.parse("2026-06-01T10:00:00Z"));
    private final MemoryStore store = new MemoryStore(now::get, new Calm(), Mirror.NONE);
    private final List<String> runs = new ArrayList<>();
    private Engine engine;

    private void house(String allowance, String limits, String last) {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.put("kinds/boat.yaml", "title: A boat\ndesk: it\nopen-to: [everybody]\n");
        files.put(
                "agents/thinker.yaml",
                "title: Thinker\ndesk: it\nmodel: writer\nworks: alone\nallowance: " + allowance
                        + "\nbrief: { job: j, audience: a }\n");
        files.put(
                "runbooks/thinking.md",
                PAGE.formatted("Thinking", "[{ on: case-opened, kind: boat }]", limits, "Last", last));
        files.put("runbooks/inner.md", PAGE.formatted("Inner", "[]", "calls: 5", "Done", "finish: resolved"));
        CheckedHandbook checked = CheckedHandbook.of(files);
        engine = new Engine(new OneEdition(new Edition(1, checked.handbook())));
    }

    private void books(java.util.function.Consumer<MemoryBooks> work) {
        store.asSeenByAProcess().commit(raw -> work.accept((MemoryBooks) raw));
    }

    private void open(int count) {
        books(books -> {
            for (int i = 0; i < count; i++) {
                String id = "c" + (runs.size() + 1);
                books.openCase(MemoryStore.aCase(id, "boat", Json.object()));
                runs.add(engine.open(books, id, "boat").orElseThrow());
            }
        });
    }

    private RunState state(String run) {
        RunState[] state = new RunState[1];
        books(books -> state[0] = books.run(run).orElseThrow().state());
        return state[0];
    }

    private List<String> waiting() {
        return runs.stream().filter(run -> !state(run).status().ended()).toList();
    }

    private void answer(String run, int tokens, String cost) {
        books(books -> engine.feed(
                books,
                run,
                new RunInput.ModelAnswered(
                        books.run(run).orElseThrow().state().pending().id(),
                        "m",
                        Json.object().put("colour", "red").put("reason", "r").put("sure", 0.9),
                        tokens,
                        null,
                        new BigDecimal(cost))));
    }

    private BigDecimal used(String counter) {
        BigDecimal[] used = new BigDecimal[1];
        books(books -> used[0] = books.alone(counter));
        return used[0];
    }

    @Test
    void thirtyTwoRunsAtOnceReserveNoMoreThanThereIs() {
        house("{ tokens-a-day: 10000 }", "calls: 5", "finish: resolved");
        open(32);
        List<String> asked = waiting();
        BigDecimal reserved = used(ModelAllowances.tokensOf("thinker", DAY));
        assertThat(reserved).isLessThanOrEqualTo(BigDecimal.valueOf(10_000));
        BigDecimal each = reserved.divide(BigDecimal.valueOf(asked.size()));
        assertThat(reserved.add(each)).as("one more had been too many").isGreaterThan(BigDecimal.valueOf(10_000));
        assertThat(runs).filteredOn(run -> !asked.contains(run)).isNotEmpty().allSatisfy(run -> {
            assertThat(state(run).problem().name()).isEqualTo("exhausted");
            assertThat(state(run).problem().detail()).contains("Thinker today may use 10000 model tokens");
            assertThat(state(run).caseState()).isEqualTo("with-people");
        });

        asked.forEach(run -> answer(run, 100, "0"));
        assertThat(used(ModelAllowances.tokensOf("thinker", DAY)))
                .as("what was taken counts, not what was reserved")
                .isEqualByComparingTo(BigDecimal.valueOf(100L * asked.size()));
        open(1);
        assertThat(state(runs.get(32)).status()).as("there is room again").isEqualTo(RunStatus.WORKING);
    }

    @Test
    void moneyOfADayIsHeldTheSameWayAndComesBackTheNextDay() {
        house("{ cost-a-day: 0.003 }", "calls: 5", "finish: resolved");
        open(2);
        List<String> asked = waiting();
        assertThat(asked).hasSize(1);
        answer(asked.get(0), 100, "0.0029");
        open(1);
        assertThat(state(runs.get(2)).problem().detail()).contains("0.003 EUR", "0.0029 EUR are used");
        now.set(Instant.parse("2026-06-02T10:00:00Z"));
        open(1);
        assertThat(state(runs.get(3)).status()).isEqualTo(RunStatus.WORKING);
    }

    @Test
    void whatARunMayCostCountsThePagesItFollows() {
        house("{}", "cost: 0.005", "follow: inner\nsave: inner\non: { trouble: hand over }");
        open(1);
        answer(runs.get(0), 100, "0.0045");
        assertThat(state(runs.get(0)).caseState()).isEqualTo("with-people");
        assertThat(state(runs.get(0)).problem().name()).isEqualTo("trouble");
        assertThat(used("model-cost run " + runs.get(0))).isEqualByComparingTo("0.0045");
    }

    @Test
    void withoutALimitNothingIsCounted() {
        house("{}", "calls: 5", "finish: resolved");
        open(1);
        answer(runs.get(0), 100, "0.1");
        assertThat(used(ModelAllowances.tokensOf("thinker", DAY))).isZero();
        assertThat(state(runs.get(0)).caseState()).isEqualTo("resolved");
    }
}
