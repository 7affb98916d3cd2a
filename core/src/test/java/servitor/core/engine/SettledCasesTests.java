package servitor.core.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.engine.EngineStore.Note;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import servitor.core.json.Json;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;

/** A run hears once that a case it had opened is done with, whoever is first. */
class SettledCasesTests {
    private static final String OPENING = """
            ---
            title: Opening
            desk: it
            agent: opener
            starts: [{ on: case-opened, kind: boat }]
            ---
            ## Open
            ```step
            open: sail
            with: { subject: A sail, relation: sail }
            save: sail
            ```
            ## Wait
            ```step
            await: case
            named: sail
            save: sewn
            ```
            ## Done
            ```step
            finish: resolved
            summary: "${sewn.gave.yards} yards"
            ```
            """;
    private static final String SEWING = """
            ---
            title: Sewing
            desk: it
            agent: opener
            gives: { yards: "${7}" }
            starts: [{ on: case-opened, kind: sail }]
            ---
            ## Done
            ```step
            finish: resolved
            ```
            """;

    private final MemoryStore store =
            new MemoryStore(() -> Instant.parse("2026-06-01T10:00:00Z"), new Calm(), Mirror.NONE);
    private Engine engine;

    /** A case c1 whose run has had c2 opened and waits for it, after {@code before} was done with c2. */
    private RunState play(boolean sewing, Consumer<EngineStore> before, Consumer<EngineStore> after) {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.put("kinds/boat.yaml", "title: A boat\ndesk: it\nopen-to: [everybody]\n");
        files.put("kinds/sail.yaml", "title: A sail\ndesk: it\nopen-to: [everybody]\n");
        files.put(
                "agents/opener.yaml",
                "title: Opener\ndesk: it\nmodel: writer\nworks: alone\nbrief: { job: j, audience: a }\n");
        files.put(
                "mandates/opener.yaml",
                "title: Opens\nfor: [opener]\nask: it-resolvers\ngrants: [{ name: open, tools: [case.open], verdict: allow }]\n");
        files.put("runbooks/opening.md", OPENING);
        files.put("runbooks/sewing.md", SEWING);
        CheckedHandbook checked = CheckedHandbook.of(files);
        assertThat(checked.findings())
                .filteredOn(finding -> finding.severity() == Finding.Severity.ERROR)
                .isEmpty();
        Edition edition = new Edition(1, checked.handbook());
        engine = new Engine(new OneEdition(edition));
        RunState[] state = new RunState[1];
        store.asSeenByAProcess().commit(raw -> {
            MemoryBooks books = (MemoryBooks) raw;
            books.openCase(MemoryStore.aCase("c1", "boat", Json.object()));
            String run = engine.open(books, "c1", "boat").orElseThrow();
            books.openCaseFor("c1", MemoryStore.aCase("c2", "sail", Json.object()));
            books.openCase(MemoryStore.aCase("c3", "sail", Json.object()));
            if (sewing) {
                engine.open(books, "c2", "sail");
            }
            before.accept(books);
            String call = books.run(run).orElseThrow().state().pending().id();
            engine.feed(
                    books,
                    run,
                    new RunInput.ToolAnswered(
                            call, Json.object().put("id", "c2").put("kind", "sail")));
            after.accept(books);
            state[0] = books.run(run).orElseThrow().state();
        });
        return state[0];
    }

    private void resolve(EngineStore books, String caseId) {
        new RunControl(engine)
                .resolve(books, caseId, "teun", new Note("n-" + caseId, "person:teun", "staff", false, "Done."));
    }

    @Test
    void aCaseThatIsDoneWithBeforeItIsWaitedForIsHeardOfAtOnce() {
        RunState run = play(true, books -> {}, books -> {});
        assertThat(run.caseState()).isEqualTo("resolved");
        assertThat(run.saved().get("sewn").value())
                .hasToString("{\"id\":\"c2\",\"state\":\"resolved\",\"gave\":{\"yards\":7}}");
    }

    @Test
    void aTaskThatPeopleResolveIsHeardOfThenAndGivesNothing() {
        RunState run = play(false, books -> {}, books -> resolve(books, "c2"));
        assertThat(run.saved().get("sewn").value().path("gave").isEmpty()).isTrue();
        assertThat(run.status().ended()).isTrue();
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "c3"})
    void anotherCaseSaysNothing(String other) {
        RunState run = play(false, books -> {}, books -> {
            if (!other.isEmpty()) {
                resolve(books, other);
            }
        });
        assertThat(run.waitingFor()).isEqualTo("the case c2");
    }
}
