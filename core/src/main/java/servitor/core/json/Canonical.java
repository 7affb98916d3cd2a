package servitor.core.json;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.erdtman.jcs.NumberToJSON;
import tools.jackson.databind.JsonNode;

/**
 * Writes the canonical form of RFC 8785 straight from a tree: members sorted by the UTF-16 code units of their names,
 * numbers and texts as ECMAScript writes them. Integers beyond 2^53 are written as texts: the canonical form has only
 * IEEE doubles and would round them silently.
 */
final class Canonical {
    private static final long SAFE = 9_007_199_254_740_992L;

    private final StringBuilder out = new StringBuilder(256);

    private Canonical() {}

    static byte[] bytes(JsonNode node) {
        Canonical canonical = new Canonical();
        canonical.write(node);
        return canonical.out.toString().getBytes(StandardCharsets.UTF_8);
    }

    private void write(JsonNode node) {
        switch (node.getNodeType()) {
            case OBJECT -> object(node);
            case ARRAY -> array(node);
            case STRING -> text(node.stringValue());
            case NUMBER -> number(node);
            case BOOLEAN -> out.append(node.booleanValue());
            case NULL -> out.append("null");
            default -> throw new IllegalArgumentException("no JSON: " + node.getNodeType());
        }
    }

    private void object(JsonNode node) {
        List<Map.Entry<String, JsonNode>> members = new ArrayList<>(node.properties());
        members.sort(Map.Entry.comparingByKey());
        out.append('{');
        for (int i = 0; i < members.size(); i++) {
            if (i > 0) {
                out.append(',');
            }
            text(members.get(i).getKey());
            out.append(':');
            write(members.get(i).getValue());
        }
        out.append('}');
    }

    private void array(JsonNode node) {
        out.append('[');
        for (int i = 0; i < node.size(); i++) {
            if (i > 0) {
                out.append(',');
            }
            write(node.get(i));
        }
        out.append(']');
    }

    private void number(JsonNode node) {
        if (node.isIntegralNumber()) {
            if (node.canConvertToLong() && Math.abs(node.longValue()) <= SAFE) {
                out.append(node.longValue());
            } else {
                text(node.asString());
            }
            return;
        }
        if (!Json.isDouble(node)) {
            text(node.asString()); // beyond what the canonical form has, as an integer beyond 2^53 is
            return;
        }
        try {
            out.append(NumberToJSON.serializeNumber(node.doubleValue()));
        } catch (IOException e) {
            throw new IllegalArgumentException("JSON has no number " + node, e);
        }
    }

    private void text(String text) {
        out.append('"');
        int plain = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c >= ' ' && c != '"' && c != '\\') {
                continue;
            }
            out.append(text, plain, i);
            plain = i + 1;
            switch (c) {
                case '"' -> out.append("\\\"");
                case '\\' -> out.append("\\\\");
                case '\b' -> out.append("\\b");
                case '\t' -> out.append("\\t");
                case '\n' -> out.append("\\n");
                case '\f' -> out.append("\\f");
                case '\r' -> out.append("\\r");
                default ->
                    out.append("\\u00").append(Character.forDigit(c >> 4, 16)).append(Character.forDigit(c & 15, 16));
            }
        }
        out.append(text, plain, text.length()).append('"');
    }
}
