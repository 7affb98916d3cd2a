package servitor.core.json;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Random;
import org.erdtman.jcs.JsonCanonicalizer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** The canonical form, against examples of RFC 8785 and against another implementation. */
class CanonicalTests {
    private static String canonical(JsonNode node) {
        return new String(Json.canonical(node), StandardCharsets.UTF_8);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "333333333.33333329 | 333333333.3333333",
                "1E30 | 1e+30",
                "4.50 | 4.5",
                "2e-3 | 0.002",
                "0.000000000000000000000000001 | 1e-27",
                "80.0 | 80",
                "-0.0 | 0",
                "9007199254740993 | \"9007199254740993\"",
                "1e310 | \"1E+310\"",
                "{\"b\":1,\"a\":[true,null,\"\\u20ac$\\u000F\\u000aA'B\\u0022\\u005c\\\\\\\"\\/\"]} | "
                        + "{\"a\":[true,null,\"€$\\u000f\\nA'B\\\"\\\\\\\\\\\"/\"],\"b\":1}",
            })
    void examples(String json, String wanted) {
        assertThat(canonical(Json.read(json, JsonNode.class))).isEqualTo(wanted);
    }

    @Test
    void membersAreSortedByCodeUnits() {
        JsonNode node = Json.object()
                .put("\u20ac", "Euro Sign")
                .put("\r", "Carriage Return")
                .put("\ufb33", "Hebrew Letter Dalet With Dagesh")
                .put("1", "One")
                .put("\ud83d\ude00", "Emoji: Grinning Face")
                .put("\u0080", "Control")
                .put("\u00f6", "Latin Small Letter O With Diaeresis");
        assertThat(Json.read(canonical(node), JsonNode.class).propertyNames())
                .containsExactly("\r", "1", "\u0080", "\u00f6", "\u20ac", "\ud83d\ude00", "\ufb33");
    }

    @Test
    void itIsWhatAnotherImplementationWrites() throws IOException {
        Random random = new Random(8785);
        for (int i = 0; i < 3_000; i++) {
            JsonNode node = node(random, 4);
            String other = new JsonCanonicalizer("[" + Json.write(node) + "]").getEncodedString();
            assertThat("[" + canonical(node) + "]").as("document %d", i).isEqualTo(other);
        }
    }

    private static JsonNode node(Random random, int depth) {
        return switch (random.nextInt(depth > 0 ? 8 : 6)) {
            case 0 -> Json.of(text(random));
            case 1 -> Json.of(random.nextInt());
            case 2 -> Json.of(random.nextLong() >> 11);
            case 3 -> Json.of(Double.longBitsToDouble(random.nextLong() & 0x7fdfffffffffffffL));
            case 4 -> Json.of(random.nextBoolean());
            case 5 -> Json.of(null);
            case 6 -> {
                var array = Json.mapper().createArrayNode();
                for (int i = random.nextInt(4); i > 0; i--) {
                    array.add(node(random, depth - 1));
                }
                yield array;
            }
            default -> {
                var object = Json.object();
                for (int i = random.nextInt(5); i > 0; i--) {
                    object.set(text(random), node(random, depth - 1));
                }
                yield object;
            }
        };
    }

    private static String text(Random random) {
        StringBuilder text = new StringBuilder();
        for (int i = random.nextInt(8); i > 0; i--) {
            text.appendCodePoint(
                    switch (random.nextInt(4)) {
                        case 0 -> random.nextInt(0x20);
                        case 1 -> 0x1F600 + random.nextInt(50);
                        case 2 -> 0x20 + random.nextInt(0x60);
                        default -> 0xA0 + random.nextInt(0x2000);
                    });
        }
        return text.toString();
    }
}
