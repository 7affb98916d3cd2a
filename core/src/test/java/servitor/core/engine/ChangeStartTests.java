package servitor.core.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatExceptionOfType;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.DemoHandbook;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.engine.EngineStore.Note;
import servitor.core.explain.Explainer;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import servitor.core.json.Json;

/** Pages that start when a case changes, each once, and never in chains. */
class ChangeStartTests {
    private static final String FRONT = """
            ---
            title: %s
            desk: it
            agent: bosun
            starts:
              - %s
            ---
            """;
    private static final String DONE = """
            ## Done
            ```step
            finish: with-people
            ```
            """;
    private static final String PAINT = """
            ## Paint
            ```step
            set: { fields: { colour: %s } }
            ```
            """;

    private final MemoryStore store =
            new MemoryStore(() -> Instant.parse("2026-06-01T10:00:00Z"), new Calm(), Mirror.NONE);

    private Engine engine;

    private static Map<String, String> files(String opened) {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.put(
                "kinds/boat.yaml",
                "title: A boat\ndesk: it\nopen-to: [everybody]\nresolve-within: P2D\nfields: { colour: { title: Colour } }\n");
        files.put("runbooks/a-opened.md", FRONT.formatted("Opened", "{ on: case-opened, kind: boat }") + opened);
        files.put(
                "runbooks/b-red.md",
                FRONT.formatted(
                                "Red",
                                "{ on: case-changed, kind: boat, field: colour, when: 'case.fields.colour == \"red\"' }")
                        + PAINT.formatted("pink")
                        + DONE);
        files.put(
                "runbooks/c-handed-over.md",
                FRONT.formatted("Handed over", "{ on: case-changed, kind: boat, to: handed-over }")
                        + PAINT.formatted("red")
                        + DONE);
        files.put(
                "runbooks/d-resolved.md",
                FRONT.formatted("Resolved", "{ on: case-changed, kind: boat, to: resolved }") + DONE);
        files.put("runbooks/e-late.md", FRONT.formatted("Late", "{ on: case-changed, kind: boat, to: late }") + DONE);
        return files;
    }

    /** The pages of the runs of a case, in the order they began. */
    private List<String> played(String opened, Consumer<EngineStore> then) {
        CheckedHandbook checked = CheckedHandbook.of(files(opened));
        assertThat(checked.findings())
                .filteredOn(finding -> finding.severity() == Finding.Severity.ERROR)
                .isEmpty();
        Edition edition = new Edition(1, checked.handbook());
        engine = new Engine(new OneEdition(edition));
        List<String> pages = new ArrayList<>();
        store.asSeenByAProcess().commit(books -> {
            pages.clear(); // it may be tried several times
            store.openCase(books, "c1", "boat", Json.object().put("colour", "grey"));
            engine.open(books, "c1", "boat");
            then.accept(books);
            if (then == RESOLVING) {
                new RunControl(engine)
                        .resolve(books, "c1", "teun", new Note("n1", "person:teun", "staff", false, "Done."));
            }
            for (int number = 0; number < 2_000; number++) {
                books.run("R-" + number).map(KeptRun::state).ifPresent(run -> pages.add(run.page()));
            }
        });
        return pages;
    }

    private static final Consumer<EngineStore> NOTHING = books -> {};
    private static final Consumer<EngineStore> RESOLVING = books -> {};

    @Test
    void aFieldThatIsSetStartsAPageOnceAndOnlyWhereItsConditionHolds() {
        assertThat(played(PAINT.formatted("red") + "## End\n```step\nfinish: open\n```\n", NOTHING))
                .containsExactly("a-opened", "b-red");
    }

    @Test
    void anotherColourStartsNothing() {
        assertThat(played(PAINT.formatted("blue") + "## End\n```step\nfinish: open\n```\n", NOTHING))
                .containsExactly("a-opened");
    }

    @Test
    void whatWasStartedByAChangeStartsNothing() {
        assertThat(played("## Give\n```step\nhand-over: it\nwhy: x\n```\n", NOTHING))
                .as("the page of the handed-over case paints it red, and no page starts on that")
                .containsExactly("a-opened", "c-handed-over");
    }

    private static final String WAIT = """
            ## Wait
            ```step
            await: reply
            within: P9D
            go: { arrived: hand over, expired: hand over }
            ```
            """;

    /** The case waits for a reply, so that only the trouble says that people are to see to it. */
    @Test
    void whatIsHandedOverWhileAnotherRunWaitsIsToldToPeople() {
        assertThat(played(WAIT, books -> engine.changed(books, "c1", CaseChange.What.LATE)))
                .containsExactly("a-opened", "e-late");
        store.asSeenByAProcess().commit(books -> {
            assertThat(books.situation("c1").view().state()).isEqualTo("waiting");
            Trouble told = books.troublesOf("c1").get(0);
            assertThat(told.what()).isEqualTo(Trouble.What.HANDED_OVER);
            assertThat(Trouble.What.of(told.what().word())).isEqualTo(told.what());
            RunControl control = new RunControl(engine);
            assertThatExceptionOfType(RunRefused.class)
                    .isThrownBy(() -> control.retry(books, told.id(), "teun", "again"));
            control.takeOver(books, told.id(), "teun", "I see to it");
            assertThat(books.troublesOf("c1")).isEmpty();
        });
    }

    @Test
    void aCaseThatPeopleResolveStartsItsPage() {
        assertThat(played("## End\n```step\nfinish: open\n```\n", RESOLVING)).containsExactly("a-opened", "d-resolved");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{ on: case-changed, kind: boat } | A change is said by one key.",
                "{ on: case-changed, kind: boat, to: sunk } | ‘sunk’ is nothing that a case can become here.",
                "{ on: case-changed, kind: boat, to: resolved, field: colour } | A change is said by one key.",
                "{ on: case-changed, kind: boat, field: weight } | There is no field ‘weight’",
                "{ on: case-changed, kind: lost-thing, to: late } | Cases of ‘Something lost’ are never late",
                "{ on: case-changed, kind: raft, to: resolved } | There is no kind ‘raft’",
                "{ on: case-opened, kind: boat, when: 'true' } | ‘when’ says nothing where a page starts on a case that is opened.",
                "{ on: case-changed, kind: boat, to: resolved, when: case.weight > 1 } | weight",
            })
    void whatCantStartAPageIsAFinding(String start, String what) {
        Map<String, String> files = files("## End\n```step\nfinish: open\n```\n");
        files.put("runbooks/e.md", FRONT.formatted("E", start) + DONE);
        assertThat(CheckedHandbook.of(files).findings())
                .extracting(Finding::what)
                .anyMatch(said -> said.contains(what));
    }

    @Test
    void itIsSaidInWords() {
        var handbook = CheckedHandbook.of(files("## End\n```step\nfinish: open\n```\n"))
                .handbook();
        assertThat(Explainer.explain(handbook, handbook.page("b-red")).toString())
                .contains("This page starts when a case ‘A boat’ gets another ‘colour’, if case.fields.colour");
        assertThat(handbook.startedByChange("boat", CaseChange.What.RESOLVED, ""))
                .hasSize(1);
    }
}
