package servitor.core.trail;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import tools.jackson.databind.JsonNode;

class VerifierTests {

    private static List<RecordedEntry> trail(int length) {
        Random random = new Random(7);
        List<RecordedEntry> entries = new ArrayList<>();
        String previous = TrailEntry.GENESIS;
        for (int i = 1; i <= length; i++) {
            byte[] salt = new byte[16];
            random.nextBytes(salt);
            var data = Json.object()
                    .set("data", Json.object().put("amount", 84.5).put("n", i))
                    .put("name", "Überfahrt “" + i + "”");
            TrailEvent event = new TrailEvent(TrailEvent.agent("purser"), TrailWord.EVENT_REPORTED, "pay", data);
            TrailEntry entry = TrailEntry.append(
                    i,
                    previous,
                    Instant.parse("2026-11-24T09:00:00.123456789Z"),
                    "C-1",
                    "R-1",
                    event,
                    TrailEntry.digest(salt, data));
            entries.add(new RecordedEntry(entry, HexFormat.of().formatHex(salt), data));
            previous = entry.hash();
        }
        return entries;
    }

    private static Optional<Verifier.Break> verify(List<RecordedEntry> entries) {
        Verifier verifier = new Verifier();
        for (RecordedEntry entry : entries) {
            Optional<Verifier.Break> fault = verifier.next(entry);
            if (fault.isPresent()) {
                return fault;
            }
        }
        return Optional.empty();
    }

    @Test
    void anUntouchedTrailHoldsAlsoAfterBeingWrittenAndReadBack() throws MalformedJson {
        List<RecordedEntry> back = new ArrayList<>();
        for (RecordedEntry entry : trail(20)) {
            back.add(RecordedEntry.fromLine(entry.toLine()));
        }
        assertThat(verify(back)).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "event-reported, approved, 5, altered",
        "pay, pat, 5, altered",
        "agent:purser, person:osei, 5, altered",
        "84.5, 8450.0, 5, data was altered",
        "2026-11-24, 2026-11-23, 5, altered",
    })
    void anAlteredEntryIsNamed(String from, String to, int number, String what) throws MalformedJson {
        List<RecordedEntry> entries = trail(20);
        String line = entries.get(number - 1).toLine();
        assertThat(line).contains(from);
        entries.set(number - 1, RecordedEntry.fromLine(line.replace(from, to)));
        assertThat(verify(entries)).hasValueSatisfying(fault -> {
            assertThat(fault.seq()).isEqualTo(number);
            assertThat(fault.what()).contains(what);
            assertThat(fault.stated()).isNotEqualTo(fault.calculated());
        });
    }

    @Test
    void aMissingEntryASwapAndAnInsertionAreFound() {
        List<RecordedEntry> missing = trail(10);
        missing.remove(4);
        assertThat(verify(missing))
                .hasValueSatisfying(fault -> assertThat(fault.seq()).isEqualTo(6));
        List<RecordedEntry> swapped = trail(10);
        swapped.add(4, swapped.remove(5));
        assertThat(verify(swapped)).isPresent();
        List<RecordedEntry> forged = trail(10);
        RecordedEntry fifth = forged.get(4);
        TrailEvent other = new TrailEvent("system", TrailWord.VERDICT, "", Json.object());
        TrailEntry forgery = TrailEntry.append(
                5,
                fifth.entry().previous(),
                fifth.entry().at(),
                "C-1",
                "R-1",
                other,
                TrailEntry.digest(new byte[16], other.data()));
        forged.set(4, new RecordedEntry(forgery, "00".repeat(16), Json.object()));
        assertThat(verify(forged))
                .as("a well-made forgery breaks the entry after it")
                .hasValueSatisfying(fault -> assertThat(fault.seq()).isEqualTo(6));
    }

    @Test
    void withheldDataLeavesTheChainProvable() {
        List<RecordedEntry> entries = trail(10);
        entries.set(3, new RecordedEntry(entries.get(3).entry(), null, null));
        Verifier verifier = new Verifier();
        entries.forEach(entry -> assertThat(verifier.next(entry)).isEmpty());
        assertThat(verifier.withheld()).isEqualTo(1);
        assertThat(verifier.verified()).isEqualTo(10);
    }

    @ParameterizedTest
    @CsvSource(
            value = {"{}", "[]", "nonsense", "{\"seq\":\"one\"}"},
            delimiter = '|')
    void aLineThatIsNoEntryIsAClearError(String line) {
        assertThatThrownBy(() -> RecordedEntry.fromLine(line)).isInstanceOf(MalformedJson.class);
    }

    @Test
    void bigIntegersAreNotRoundedTogether() {
        var one = Json.object().put("n", 9_007_199_254_740_993L);
        var other = Json.object().put("n", 9_007_199_254_740_992L);
        assertThat(Json.digest(one)).isNotEqualTo(Json.digest(other));
    }

    @Test
    void missingDataIsAFaultUnlessAnEntrySaysThatItWasErased() {
        Verifier verifier = new Verifier();
        List<RecordedEntry> entries = trail(10);
        entries.set(3, new RecordedEntry(entries.get(3).entry(), null, null));
        entries.forEach(entry -> assertThat(verifier.next(entry)).isEmpty());

        assertThat(verifier.complete()).hasValueSatisfying(fault -> {
            assertThat(fault.seq()).isEqualTo(4);
            assertThat(fault.what()).contains("missing");
        });

        TrailEvent erased =
                new TrailEvent("system", TrailWord.ERASED, "", Json.read("{\"entries\":[4]}", JsonNode.class));
        byte[] salt = new byte[16];
        TrailEntry said = TrailEntry.append(
                11,
                entries.get(9).entry().hash(),
                Instant.parse("2026-11-24T10:00:00Z"),
                "",
                "",
                erased,
                TrailEntry.digest(salt, erased.data()));
        assertThat(verifier.next(new RecordedEntry(said, HexFormat.of().formatHex(salt), erased.data())))
                .isEmpty();
        assertThat(verifier.complete()).isEmpty();
    }
}
