package servitor.service.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import servitor.core.run.Situation;
import servitor.service.cases.CaseRow;

class WriterCacheTests {
    private static final int IN_HAND = 400;

    private final WriterCache cache = new WriterCache();

    @Test
    void casesThatAreDoneWithLeaveRoomForThoseThatBegin() {
        for (int number = 0; number < 20_000; number++) {
            cache.put(begun("C-" + number));
            String before = "C-" + (number - IN_HAND);
            if (number >= IN_HAND) {
                assertThat(cache.ofCase(before)).as("what is under way").isNotNull();
            }
            cache.change(before, known -> known.ended("R-1"));
            cache.forgetIfIdle(before);
        }
    }

    @Test
    void aCaseThatARunWorksOnIsKept() {
        cache.put(begun("C-1"));
        cache.forgetIfIdle("C-1");
        assertThat(cache.ofCase("C-1")).isNotNull();
    }

    private static WriterCache.OfCase begun(String id) {
        Instant now = Instant.EPOCH;
        CaseRow row = new CaseRow(
                id,
                1,
                "desk",
                "kind",
                "ines",
                "signed-in",
                "note",
                "ines",
                "A subject",
                "",
                "A text",
                "en",
                "normal",
                "[]",
                "{}",
                "open",
                null,
                null,
                "",
                null,
                now,
                now,
                1);
        Situation.Requester requester = new Situation.Requester("ines", "Ines", "", "", Set.of(), "signed-in");
        return new WriterCache.OfCase(row, requester, Json.mapper().createArrayNode(), List.of("R-1"));
    }
}
