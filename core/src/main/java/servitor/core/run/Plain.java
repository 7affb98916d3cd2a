package servitor.core.run;

import java.util.StringJoiner;
import tools.jackson.databind.JsonNode;

/** Values in words, for notes that people read. */
final class Plain {
    private static final int LONGEST = 600;

    private Plain() {}

    static String words(JsonNode value) {
        String words = of(value);
        return words.length() <= LONGEST ? words : words.substring(0, LONGEST) + "…";
    }

    private static String of(JsonNode value) {
        if (value.isObject()) {
            StringJoiner parts = new StringJoiner(", ");
            value.properties()
                    .forEach(e -> parts.add(e.getKey() + " "
                            + (e.getValue().isObject() ? "(" + of(e.getValue()) + ")" : of(e.getValue()))));
            return parts.toString();
        }
        if (value.isArray()) {
            StringJoiner parts = new StringJoiner("; ");
            value.forEach(item -> parts.add(of(item)));
            return parts.toString();
        }
        return value.isNull() ? "nothing" : value.asString();
    }
}
