package servitor.core.trail;

import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Data as every reader of RFC 8785 understands it alike: a number that IEEE doubles
 * can't hold (an integer beyond 2^53, anything beyond their range) stands as a text, and half
 * of a surrogate pair, which no encoding has, as U+FFFD.
 */
public final class Portable {
    private static final long SAFE = 9_007_199_254_740_991L;

    private Portable() {}

    /** The same data when it is portable already. */
    public static JsonNode of(JsonNode data) {
        if (data.isObject()) {
            return object(data);
        } else if (data.isArray()) {
            return array(data);
        } else if (data.isString()) {
            String whole = whole(data.stringValue());
            return whole.equals(data.stringValue()) ? data : Json.of(whole);
        } else if (data.isNumber() && !isSafe(data)) {
            return Json.of(data.asString());
        }
        return data;
    }

    private static boolean isSafe(JsonNode number) {
        if (!number.isIntegralNumber()) {
            return Json.isDouble(number);
        }
        return number.canConvertToLong()
                && Math.abs(number.longValue()) <= SAFE
                && number.longValue() != Long.MIN_VALUE;
    }

    private static JsonNode object(JsonNode data) {
        ObjectNode copy = Json.object();
        boolean[] changed = {false};
        data.properties().forEach(member -> {
            String name = whole(member.getKey());
            JsonNode value = of(member.getValue());
            changed[0] |= value != member.getValue() || !name.equals(member.getKey());
            copy.set(name, value);
        });
        return changed[0] ? copy : data;
    }

    private static JsonNode array(JsonNode data) {
        ArrayNode copy = Json.mapper().createArrayNode();
        boolean changed = false;
        for (JsonNode item : data) {
            JsonNode value = of(item);
            changed |= value != item;
            copy.add(value);
        }
        return changed ? copy : data;
    }

    private static String whole(String text) {
        StringBuilder copy = null;
        for (int i = 0; i < text.length(); i++) {
            char sign = text.charAt(i);
            boolean pair = Character.isHighSurrogate(sign)
                    && i + 1 < text.length()
                    && Character.isLowSurrogate(text.charAt(i + 1));
            if (pair) {
                i++;
            } else if (Character.isSurrogate(sign)) {
                copy = copy == null ? new StringBuilder(text) : copy;
                copy.setCharAt(i, '\uFFFD');
            }
        }
        return copy == null ? text : copy.toString();
    }
}
