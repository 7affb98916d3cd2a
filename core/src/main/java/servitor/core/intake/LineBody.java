package servitor.core.intake;

import java.nio.charset.StandardCharsets;
import java.util.List;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;

/** Reads lines that a system posts: of text, or with a JSON value in each (JSON Lines). */
public final class LineBody {
    /** The most lines in one message. */
    public static final int MOST = 1_000;
    /** The most bytes. */
    public static final int LONGEST = 250_000;

    private static final int LONGEST_LINE = 4_000;

    private LineBody() {}

    /**
     * The lines as messages, without those that are blank. One that is too long is cut off, and one that should be JSON and isn't is
     * kept as text, which no message is.
     *
     * @throws UnreadableEvent when there are too many, or they are too much together
     */
    public static List<OutsideEvent> read(byte[] body, boolean json) throws UnreadableEvent {
        if (body.length > LONGEST) {
            throw new UnreadableEvent("lines may have at most " + LONGEST + " bytes together; send them in parts");
        }
        List<String> lines = new String(body, StandardCharsets.UTF_8)
                .lines()
                .filter(line -> !line.isBlank())
                .limit(MOST + 1L)
                .toList();
        if (lines.size() > MOST) {
            throw new UnreadableEvent("there may be at most " + MOST + " lines; send them in parts");
        }
        return lines.stream().map(line -> message(line, json)).toList();
    }

    private static OutsideEvent message(String line, boolean json) {
        if (json) {
            try {
                return OutsideEvent.plain("", Outside.read(line));
            } catch (MalformedJson e) {
                return OutsideEvent.plain("", Json.of(cut(line)));
            }
        }
        return OutsideEvent.plain("", Json.of(cut(line)));
    }

    private static String cut(String line) {
        return line.length() <= LONGEST_LINE ? line : line.substring(0, LONGEST_LINE);
    }
}
