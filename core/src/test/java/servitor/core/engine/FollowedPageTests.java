package servitor.core.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;

/** A case stands as the page leaves it that follows another one, however that ended. */
class FollowedPageTests {
    private static final String PAGE = """
            ---
            title: %s
            desk: it
            agent: opener
            starts: %s
            ---
            """;

    @ParameterizedTest
    @CsvSource({
        "resolved, 'hand-over: it', with-people",
        "closed, 'finish: resolved', resolved",
        "resolved, 'finish: closed', closed"
    })
    void theFollowedPagesEndIsNotTheCases(String followed, String end, String stands) {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.put("kinds/boat.yaml", "title: A boat\ndesk: it\nopen-to: [everybody]\n");
        files.put(
                "agents/opener.yaml",
                "title: Opener\ndesk: it\nmodel: writer\nworks: alone\nbrief: { job: j, audience: a }\n");
        files.put(
                "runbooks/inner.md",
                PAGE.formatted("Inner", "[]") + "## Done\n```step\nfinish: " + followed + "\n```\n");
        files.put(
                "runbooks/outer.md",
                PAGE.formatted("Outer", "[{ on: case-opened, kind: boat }]")
                        + "## Follow\n```step\nfollow: inner\nsave: inner\n```\n## End\n```step\n" + end + "\n```\n");
        Engine engine = new Engine(
                new OneEdition(new Edition(1, CheckedHandbook.of(files).handbook())));
        MemoryStore store = new MemoryStore(() -> Instant.parse("2026-06-01T10:00:00Z"), new Calm(), Mirror.NONE);
        store.asSeenByAProcess().commit(raw -> {
            MemoryBooks books = (MemoryBooks) raw;
            books.openCase(MemoryStore.aCase("c1", "boat", Json.object()));
            engine.open(books, "c1", "boat").orElseThrow();
            assertThat(books.caseState("c1")).isEqualTo(stands);
        });
    }
}
