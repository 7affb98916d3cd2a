package servitor.core.handbook;

import java.math.BigDecimal;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

/** One condition of a decision table: what a single value must be. Dates are compared as their ISO 8601 texts are. */
public sealed interface Cell {

    /** Whether the value meets it; empty when the value isn't of a kind that could. */
    Optional<Boolean> holds(JsonNode value);

    /** The condition in words, such as {@code one of 1, 7} or {@code above 450}. */
    String words();

    /** Whether a value of this shape could meet it. */
    boolean goesWith(Shape shape);

    /** One of these values. */
    record OneOf(List<JsonNode> options) implements Cell {
        public OneOf {
            options = List.copyOf(options);
        }

        @Override
        public Optional<Boolean> holds(JsonNode value) {
            boolean alike = options.stream().allMatch(option -> option.getNodeType() == value.getNodeType());
            return alike ? Optional.of(options.stream().anyMatch(option -> same(option, value))) : Optional.empty();
        }

        @Override
        public String words() {
            return (options.size() == 1 ? "" : "one of ")
                    + options.stream().map(Cell::text).collect(Collectors.joining(", "));
        }

        @Override
        public boolean goesWith(Shape shape) {
            if (shape instanceof Shape.OneOf words) {
                return options.stream()
                        .allMatch(option -> option.isString() && words.options().contains(option.stringValue()));
            }
            return options.stream()
                    .allMatch(option -> shape instanceof Shape.Anything
                            || option.isString() && (shape instanceof Shape.Text || shape instanceof Shape.Date)
                            || option.isBoolean() && shape instanceof Shape.YesNo
                            || option.isNumber() && (shape instanceof Shape.Number || shape instanceof Shape.Whole));
        }
    }

    /**
     * Between two bounds; null for none.
     *
     * @param withLeast whether the bound itself is in it, as {@code withMost}
     */
    record Range(
            @Nullable JsonNode least,
            boolean withLeast,
            @Nullable JsonNode most,
            boolean withMost) implements Cell {
        private static final Pattern COMPARED = Pattern.compile("(>=|<=|>|<)\\s*(\\S+)");
        private static final Pattern BETWEEN = Pattern.compile("(\\S+?)\\s*\\.\\.\\s*(\\S+)");

        /** The range that {@code text} says: {@code > 450}, {@code <= 2027-01-01}, {@code 5..10}; empty when it says none. */
        public static Optional<Range> of(String text) {
            Matcher compared = COMPARED.matcher(text.strip());
            if (compared.matches()) {
                return bound(compared.group(2))
                        .map(bound -> compared.group(1).startsWith(">")
                                ? new Range(bound, compared.group(1).endsWith("="), null, false)
                                : new Range(
                                        null, false, bound, compared.group(1).endsWith("=")));
            }
            Matcher between = BETWEEN.matcher(text.strip());
            return between.matches()
                    ? bound(between.group(1))
                            .flatMap(from -> bound(between.group(2))
                                    .filter(to -> to.getNodeType() == from.getNodeType() && compare(from, to) <= 0)
                                    .map(to -> new Range(from, true, to, true)))
                    : Optional.empty();
        }

        private static Optional<JsonNode> bound(String text) {
            if (text.matches("-?\\d{1,15}(?:\\.\\d{1,9})?")) {
                return Optional.of(Json.nodes().numberNode(new BigDecimal(text)));
            }
            return text.matches("\\d{4}-\\d{2}-\\d{2}") ? Optional.of(Json.of(text)) : Optional.empty();
        }

        /** Which of two bounds, or values, comes first. */
        public static int compare(JsonNode one, JsonNode other) {
            return one.isNumber()
                    ? one.decimalValue().compareTo(other.decimalValue())
                    : one.asString("").compareTo(other.asString(""));
        }

        /** One of its bounds. */
        JsonNode bound() {
            return java.util.Objects.requireNonNull(least != null ? least : most);
        }

        @Override
        public Optional<Boolean> holds(JsonNode value) {
            if (bound().isNumber() != value.isNumber() || bound().isString() != value.isString()) {
                return Optional.empty();
            }
            boolean enough = least == null || compare(value, least) > (withLeast ? -1 : 0);
            boolean notTooMuch = most == null || compare(value, most) < (withMost ? 1 : 0);
            return Optional.of(enough && notTooMuch);
        }

        @Override
        public String words() {
            if (least != null && most != null) {
                return "from " + text(least) + " to " + text(most);
            }
            return least != null
                    ? (withLeast ? "at least " : "above ") + text(least)
                    : (withMost ? "at most " : "below ") + text(bound());
        }

        @Override
        public boolean goesWith(Shape shape) {
            return shape instanceof Shape.Anything
                    || (bound().isNumber()
                            ? shape instanceof Shape.Number || shape instanceof Shape.Whole
                            : shape instanceof Shape.Date || shape instanceof Shape.Text);
        }
    }

    private static boolean same(JsonNode one, JsonNode other) {
        return one.isNumber() ? one.decimalValue().compareTo(other.decimalValue()) == 0 : one.equals(other);
    }

    /** A value as people write it. */
    static String text(JsonNode value) {
        if (value.isNumber()) {
            BigDecimal plain = value.decimalValue().stripTrailingZeros();
            return (plain.scale() < 0 ? plain.setScale(0) : plain).toPlainString();
        } else if (value.isBoolean()) {
            return value.booleanValue() ? "yes" : "no";
        }
        return value.isString() ? value.stringValue() : Json.write(value);
    }
}
