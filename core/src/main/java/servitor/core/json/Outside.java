package servitor.core.json;

import java.math.BigDecimal;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The one reader of JSON that comes from outside: answers of models and tools, requests, events. What it lets in is well
 * within what {@link Json} writes and reads back once it stands inside a run's state or on the trail.
 */
public final class Outside {
    /** The deepest nesting; a list in a list counts two. */
    public static final int DEEPEST = 32;
    /** The most significant digits of a number. */
    public static final int MOST_DIGITS = 40;
    /** The most digits a number has before or behind its point, when written without an exponent. */
    public static final int LONGEST_NUMBER = 400;
    /** The most characters of one name in an object. */
    public static final int LONGEST_NAME = 200;
    /** The most characters of one value, written as JSON. */
    public static final int LONGEST = 250_000;
    /** The most members and items of one value, at all levels together. */
    public static final int MOST_PARTS = 50_000;

    private static final JsonMapper MAPPER = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(constraints(1_000_000))
                    .build())
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS, DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
            .build();

    private Outside() {}

    /** What a reader of outside JSON holds a document of at most {@code longest} characters to while it reads. */
    public static StreamReadConstraints constraints(int longest) {
        return StreamReadConstraints.builder()
                .maxNestingDepth(
                        DEEPEST + 8) // a little more than a value may have, so that what is said names the bound
                .maxNumberLength(LONGEST_NUMBER)
                .maxNameLength(LONGEST_NAME * 10)
                .maxStringLength(longest)
                .maxDocumentLength(longest)
                .build();
    }

    /** Reads a document; throws {@link MalformedJson} when it isn't JSON or goes beyond a bound. */
    public static JsonNode read(String text) throws MalformedJson {
        try {
            JsonNode node = MAPPER.readTree(text);
            if (node == null || node.isMissingNode()) {
                throw new MalformedJson("the document is empty", null);
            }
            Optional<String> fault = fault(node);
            if (fault.isPresent()) {
                throw new MalformedJson(fault.get(), null);
            }
            return node;
        } catch (JacksonException e) {
            throw new MalformedJson(e.getOriginalMessage(), e);
        }
    }

    /** The bound that a value goes beyond; empty when it stays within all of them. */
    public static Optional<String> fault(JsonNode value) {
        Deque<At> open = new ArrayDeque<>();
        open.push(new At(value, 1));
        int parts = 0;
        long length = 0;
        while (!open.isEmpty()) {
            At at = open.pop();
            if (++parts > MOST_PARTS) {
                return Optional.of("it has more than " + MOST_PARTS + " parts");
            }
            if (at.depth > DEEPEST) {
                return Optional.of("it is nested more than " + DEEPEST + " levels deep");
            }
            length += 2;
            if (at.node.isObject()) {
                for (Map.Entry<String, JsonNode> member : at.node.properties()) {
                    if (member.getKey().length() > LONGEST_NAME) {
                        return Optional.of("a name in it has more than " + LONGEST_NAME + " characters");
                    }
                    length += member.getKey().length() + 3;
                    open.push(new At(member.getValue(), at.depth + 1));
                }
            } else if (at.node.isArray()) {
                at.node.forEach(item -> open.push(new At(item, at.depth + 1)));
            } else if (at.node.isString()) {
                length += written(at.node.stringValue());
            } else if (at.node.isNumber() && !bounded(at.node)) {
                return Optional.of("a number in it has more digits than are taken (" + MOST_DIGITS + ")");
            } else {
                length += 10;
            }
            if (length > LONGEST) {
                return Optional.of("it is longer than " + LONGEST + " characters");
            }
        }
        return Optional.empty();
    }

    /** How many characters a text takes once its quotes and control signs are escaped (RFC 8259, section 7). */
    private static int written(String text) {
        int length = text.length();
        for (int i = 0; i < text.length(); i++) {
            char sign = text.charAt(i);
            length += sign < ' ' ? 5 : sign == '"' || sign == '\\' ? 1 : 0;
        }
        return length;
    }

    /** About how many characters a value takes, written as JSON. */
    public static int length(JsonNode value) {
        if (value.isString()) {
            return written(value.stringValue()) + 2;
        } else if (value.isObject()) {
            int length = 2;
            for (Map.Entry<String, JsonNode> member : value.properties()) {
                length += member.getKey().length() + 4 + length(member.getValue());
            }
            return length;
        } else if (value.isArray()) {
            int length = 2;
            for (JsonNode item : value) {
                length += 1 + length(item);
            }
            return length;
        }
        return 8;
    }

    private record At(JsonNode node, int depth) {}

    private static boolean bounded(JsonNode number) {
        if (number.isDouble() || number.isFloat()) {
            return Double.isFinite(number.doubleValue());
        }
        if (number.isInt() || number.isLong() || number.isShort()) {
            return true;
        }
        BigDecimal value = number.isBigInteger() ? new BigDecimal(number.bigIntegerValue()) : number.decimalValue();
        long whole = (long) value.precision() - value.scale();
        return value.precision() <= MOST_DIGITS && whole <= LONGEST_NUMBER && (long) value.scale() <= LONGEST_NUMBER;
    }
}
