package servitor.demo.peers;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.json.Json;
import servitor.core.trail.Portable;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** A program in another language, written from {@code docs/trail.md} alone, verifies what the service exports. */
@Tag("outside")
class TrailPeerTests {
    private static final byte[] SALT = HexFormat.of().parseHex("00112233445566778899aabbccddeeff");

    @TempDir
    Path folder;

    private Peers.Said verify(List<String> lines) throws Exception {
        Path file = Files.write(folder.resolve("trail.jsonl"), lines);
        return Peers.script("verify-trail.mjs", Map.of("TRAIL", file.toString()));
    }

    private static List<String> trail(String... datas) {
        List<String> lines = new ArrayList<>();
        String previous = TrailEntry.GENESIS;
        for (String text : datas) {
            JsonNode data = Portable.of(Json.object().set("data", Json.read(text, JsonNode.class)));
            TrailEntry entry = TrailEntry.append(
                    lines.size() + 1,
                    previous,
                    Instant.parse("2026-11-24T09:00:00.1234Z").plusSeconds(lines.size()),
                    "C-1",
                    "",
                    new TrailEvent("system", TrailWord.EVENT_REPORTED, "Überfahrt „eins“", Json.object()),
                    TrailEntry.digest(SALT, data));
            lines.add(new RecordedEntry(entry, HexFormat.of().formatHex(SALT), data).toLine());
            previous = entry.hash();
        }
        return lines;
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "80.0",
                "1e21",
                "0.1",
                "-0.0",
                "1e-7",
                "123456789012345680000",
                "9007199254740993",
                "-9007199254740992",
                "84.5000000000000000000000000001",
                "[1E400, 5e-324]",
                "\"\\ud800 and \\udc00\\ud83d\\ude00\"",
                "{\"\\ud800\":1,\"\\u20ac\":2,\"\\ud83d\\ude00\":3,\"a\\u0000b\":\"\\u2028\\u007f\\\\\\\"/\"}",
                "null",
                "[[],{},\"\",true]"
            })
    void whateverIsInItIsUnderstoodAlike(String data) throws Exception {
        assertThat(verify(trail("1", data, "2")).out()).startsWith("3 entries hold");
    }

    @Test
    void whatWasAlteredIsFoundAtItsEntry() throws Exception {
        List<String> whole = trail("1", "2", "3", "4");
        Map<UnaryOperator<List<String>>, String> alterations = Map.of(
                lines -> replaced(lines, 1, "\"data\":2", "\"data\":7"), "entry 2: its data was altered",
                lines -> replaced(lines, 1, "\"actor\":\"system\"", "\"actor\":\"agent:x\""), "entry 2: altered",
                lines -> List.of(lines.get(0), lines.get(2), lines.get(3)), "entry 3: missing or out of order",
                lines -> replaced(trail("9", "2", "3", "4"), 1, "", ""), "4 entries hold");
        for (var alteration : alterations.entrySet()) {
            assertThat(verify(alteration.getKey().apply(whole)).out()).startsWith(alteration.getValue());
        }
    }

    private static List<String> replaced(List<String> lines, int at, String from, String to) {
        List<String> copy = new ArrayList<>(lines);
        copy.set(at, copy.get(at).replace(from, to));
        return copy;
    }
}
