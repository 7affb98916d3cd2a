package servitor.core.trail;

import java.util.Optional;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import tools.jackson.databind.JsonNode;

/**
 * What stands before and behind the entries of an export, so that one that ended early can't be taken for a whole one: a first line that
 * says that a last one follows, and a last one with how many entries there are and the hash of the last. Exports of earlier versions
 * have neither.
 */
public final class ExportFrame {
    /** The format of the entries. */
    private static final int FORMAT = 1;

    private ExportFrame() {}

    /** The first line, without the line end. */
    public static String opening() {
        return Json.write(Json.object().put("trail", FORMAT).put("closes", true));
    }

    /** The last line, without the line end. */
    public static String closing(long entries, String head) {
        return Json.write(new Closing(true, entries, head));
    }

    /** Whether a line is the first of an export that has a last one. */
    public static boolean opens(String line) throws MalformedJson {
        JsonNode node = Json.read(line);
        return node.path("trail").asInt(0) == FORMAT && node.path("closes").asBoolean(false);
    }

    /** The last line of an export; empty for any other. */
    public static Optional<Closing> closes(String line) throws MalformedJson {
        JsonNode node = Json.read(line);
        return node.path("end").asBoolean(false)
                ? Optional.of(new Closing(
                        true, node.path("entries").asLong(-1), node.path("head").asString("")))
                : Optional.empty();
    }

    /**
     * The last line of an export.
     *
     * @param end always true, by which it is known
     * @param entries how many there are
     * @param head the hash of the last; 64 zeros for none
     */
    public record Closing(boolean end, long entries, String head) {
        /** Why it doesn't close what was read; empty when it does. */
        public Optional<Verifier.Break> fault(Verifier read) {
            if (entries != read.verified()) {
                return Optional.of(new Verifier.Break(
                        read.verified() + 1,
                        "entries are missing before the end",
                        String.valueOf(entries),
                        String.valueOf(read.verified())));
            }
            return head.equals(read.head())
                    ? Optional.empty()
                    : Optional.of(new Verifier.Break(entries, "the export ends with another entry", head, read.head()));
        }
    }
}
