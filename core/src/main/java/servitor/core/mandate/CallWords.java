package servitor.core.mandate;

import java.math.RoundingMode;
import java.util.Map;
import java.util.StringJoiner;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Expression;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.origin.Formats;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What a call does, in one line for people: ‘Pay 310.00 EUR back for booking SK-51077’. It is made of the tool's own words and of
 * inputs that are known by their type, with amounts in the house's currency; nobody outside can write into it at length.
 */
public final class CallWords {
    /** Longest line, in characters. */
    public static final int LONGEST = 200;

    private static final int LONGEST_VALUE = 60;

    private CallWords() {}

    /**
     * The line.
     *
     * @param currency that amounts are in, such as {@code EUR}
     */
    public static String of(Tool tool, ProposedCall call, String currency) {
        ObjectNode args = Json.object();
        call.args()
                .properties()
                .forEach(e -> args.put(
                        e.getKey(), words(tool.inputs().path("properties").path(e.getKey()), e.getValue(), currency)));
        if (tool.says() == null) {
            return plain(tool, args);
        }
        ObjectNode sources = Json.object();
        call.sources().forEach((input, record) -> sources.set(input, record(record)));
        try {
            return beginning(
                    tool.says()
                            .fill(Map.of("args", handbook(args), Expression.SOURCES, handbook(sources)))
                            .value()
                            .asString(""),
                    LONGEST);
        } catch (EvaluationFailed e) {
            return plain(tool, args); // the input is no field of a record, so there is nothing to tell of one
        }
    }

    private static TracedValue handbook(JsonNode value) {
        return TracedValue.of(value, Origin.HANDBOOK);
    }

    /** What can be told of a tool that doesn't say what it does: its name, whom it is about, inputs known by their types, and its first words. */
    private static String plain(Tool tool, ObjectNode args) {
        StringJoiner told = new StringJoiner(", ");
        JsonNode properties = tool.inputs().path("properties");
        properties.propertyNames().forEach(input -> {
            if (args.has(input) && (tool.canSay(input) || tool.identifies().contains(input))) {
                told.add(input.replace('_', ' ') + " " + args.path(input).asString(""));
            }
        });
        tool.speaks().stream()
                .sorted()
                .filter(args::has)
                .forEach(input -> told.add("‘" + args.path(input).asString("") + "’"));
        return beginning(tool.title() + (told.length() == 0 ? "" : ": " + told), LONGEST);
    }

    /** A record with its texts on one line and short. */
    private static JsonNode record(JsonNode record) {
        ObjectNode told = Json.object();
        record.properties().forEach(e -> {
            if (e.getValue().isObject()) {
                told.set(e.getKey(), record(e.getValue()));
            } else if (e.getValue().isValueNode() && !e.getValue().isNull()) {
                told.put(e.getKey(), words(Json.object(), e.getValue(), ""));
            }
        });
        return told;
    }

    private static String words(JsonNode schema, JsonNode value, String currency) {
        if (value.isNumber()) {
            var number = value.decimalValue().stripTrailingZeros();
            return Formats.isAmount(schema)
                    ? number.setScale(Math.max(2, number.scale()), RoundingMode.UNNECESSARY)
                                    .toPlainString()
                            + " " + currency
                    : number.toPlainString();
        } else if (value.isBoolean()) {
            return value.booleanValue() ? "yes" : "no";
        }
        return beginning(value.isString() ? value.stringValue() : Json.write(value), LONGEST_VALUE);
    }

    /** The first words of a text, on one line. */
    public static String beginning(String text, int longest) {
        String line =
                text.replaceAll("[\\p{Cntrl}\\p{Cf}\\s\\u2028\\u2029]+", " ").strip();
        if (line.length() <= longest) {
            return line;
        }
        int cut = line.lastIndexOf(' ', longest - 1);
        return line.substring(0, cut < longest / 2 ? longest - 1 : cut) + "…";
    }
}
