package servitor.core.trail;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import servitor.core.trail.ExportFrame.Closing;

class ExportFrameTests {
    private static Verifier read(int entries) {
        Verifier verifier = new Verifier();
        String previous = TrailEntry.GENESIS;
        for (int i = 1; i <= entries; i++) {
            TrailEntry entry = TrailEntry.append(
                    i,
                    previous,
                    Instant.parse("2026-11-24T09:00:00Z"),
                    "",
                    "",
                    new TrailEvent("system", TrailWord.EVENT_REPORTED, "", Json.object()),
                    TrailEntry.digest(new byte[16], Json.object()));
            assertThat(verifier.next(new RecordedEntry(entry, null, null))).isEmpty();
            previous = entry.hash();
        }
        return verifier;
    }

    @Test
    void theLastLineIsThatOfWhatWasRead() throws Exception {
        Verifier whole = read(3);
        Closing closing =
                ExportFrame.closes(ExportFrame.closing(3, whole.head())).orElseThrow();
        assertThat(closing.fault(whole)).isEmpty();
        assertThat(closing.fault(read(2)).orElseThrow().what()).isEqualTo("entries are missing before the end");
        assertThat(new Closing(true, 3, TrailEntry.GENESIS)
                        .fault(whole)
                        .orElseThrow()
                        .what())
                .isEqualTo("the export ends with another entry");
    }

    @Test
    void anEntryIsNeitherTheFirstNorTheLastLine() throws Exception {
        assertThat(ExportFrame.opens(ExportFrame.opening())).isTrue();
        String entry = "{\"seq\":1,\"what\":\"x\",\"data\":{\"end\":true,\"trail\":1,\"closes\":true}}";
        assertThat(ExportFrame.opens(entry)).isFalse();
        assertThat(ExportFrame.closes(entry)).isEmpty();
    }
}
