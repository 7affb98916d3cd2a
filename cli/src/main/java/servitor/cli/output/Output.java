package servitor.cli.output;

import java.io.PrintWriter;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/** Writes for people: tables with aligned columns, times in the reader's zone, long texts shortened. */
public final class Output {
    private static final DateTimeFormatter TIME =
            DateTimeFormatter.ofPattern("d MMM HH:mm:ss").withZone(ZoneId.systemDefault());

    private Output() {}

    /** Prints rows under headings; the last column may be as long as it likes. */
    public static void table(PrintWriter out, List<String> headings, List<List<String>> rows) {
        int[] widths = new int[headings.size()];
        List<List<String>> all = new ArrayList<>();
        all.add(headings);
        all.addAll(rows);
        for (List<String> row : all) {
            for (int i = 0; i < widths.length; i++) {
                widths[i] = Math.max(widths[i], Math.min(48, row.get(i).length()));
            }
        }
        for (List<String> row : all) {
            StringBuilder line = new StringBuilder();
            for (int i = 0; i < widths.length; i++) {
                String cell = i < widths.length - 1 ? shorten(row.get(i), 48) : row.get(i);
                line.append(cell).append(i < widths.length - 1 ? " ".repeat(widths[i] - cell.length() + 2) : "");
            }
            out.println(line.toString().stripTrailing());
        }
    }

    public static String shorten(String text, int most) {
        String line = text.replaceAll("\\s+", " ");
        return line.length() <= most ? line : line.substring(0, most - 1) + "…";
    }

    /** A time of the API, for people; nothing for none. */
    public static String time(JsonNode time) {
        return time(time.isString() ? time.stringValue() : null);
    }

    /** The same of its text. */
    public static String time(@Nullable String time) {
        return time == null ? "" : TIME.format(Instant.parse(time));
    }

    /** How long until a time of the API; empty when there is none. */
    public static String until(@Nullable String time) {
        if (time == null) {
            return "";
        }
        Duration left = Duration.between(Instant.now(), Instant.parse(time));
        if (left.isNegative()) {
            return "overdue";
        }
        return left.toHours() >= 48
                ? left.toDays() + " days"
                : left.toHours() >= 1 ? left.toHours() + " h" : left.toMinutes() + " min";
    }

    public static String join(JsonNode list) {
        List<String> words = new ArrayList<>();
        list.forEach(item -> words.add(item.asString()));
        return String.join(", ", words);
    }

    /** One finding as a line. */
    public static String finding(JsonNode finding) {
        JsonNode place = finding.path("place");
        return place.path("file").asString() + ":" + place.path("line").asInt() + ":"
                + place.path("column").asInt() + ": " + finding.path("severity").asString() + ": "
                + finding.path("what").asString() + " " + finding.path("remedy").asString();
    }

    /** A value of any shape after its name: a plain one on the same line, fields and items on lines of their own. */
    public static String value(JsonNode value, String indent) {
        StringBuilder lines = new StringBuilder();
        if (value.isObject()) {
            value.properties()
                    .forEach(field -> lines.append('\n')
                            .append(indent)
                            .append(field.getKey())
                            .append(value(field.getValue(), indent + "  ")));
        } else if (value.isArray()) {
            value.forEach(item -> lines.append('\n')
                    .append(indent)
                    .append('-')
                    .append(item.isValueNode() ? " " + line(item) : value(item, indent + "  ")));
        } else {
            lines.append(": ").append(line(value));
        }
        return lines.toString();
    }

    private static String line(JsonNode value) {
        String text = shorten(plain(value), 200);
        return text.isBlank() ? "none" : text;
    }

    /** A value on one line. */
    public static String plain(JsonNode value) {
        return value.isValueNode() ? value.asString("") : value.toString();
    }

    /** A text set in from the left, line by line. */
    public static String indent(String text) {
        return String.join(
                "\n", Arrays.stream(text.split("\n")).map(line -> "  " + line).toList());
    }
}
