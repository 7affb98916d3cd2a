package servitor.core.document;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.format.ResolverStyle;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.core.json.Json;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

/**
 * What a cell, or a piece of text, means as a value of a shape. What could mean two things, such as {@code 1,234} or
 * {@code 03/04/2027}, means nothing here.
 */
final class Cells {
    private static final Pattern PLAIN = Pattern.compile("[-+]?(?:\\d+(?:[.,]\\d{1,2}|[.,]\\d{4,})?|0[.,]\\d+)");
    /** Groups of three digits, and behind another sign the decimals. */
    private static final Pattern GROUPED =
            Pattern.compile("([-+]?\\d{1,3}(?:([.,'’ \u00a0\u202f])\\d{3})(?:\\2\\d{3})*)(?:([.,])(\\d+))?");

    private static final Pattern NUMERIC_DATE = Pattern.compile("(\\d{1,2})([./-])(\\d{1,2})\\2(\\d{4})");
    private static final List<DateTimeFormatter> WORDED = List.of(
            worded("d MMMM uuuu", Locale.ENGLISH),
            worded("d MMM uuuu", Locale.ENGLISH),
            worded("MMMM d, uuuu", Locale.ENGLISH),
            worded("MMM d, uuuu", Locale.ENGLISH),
            worded("d. MMMM uuuu", Locale.GERMAN));
    private static final List<String> YES = List.of("yes", "y", "true", "x", "ja");
    private static final List<String> NO = List.of("no", "n", "false", "-", "nein");

    private Cells() {}

    private static DateTimeFormatter worded(String pattern, Locale locale) {
        return new DateTimeFormatterBuilder()
                .parseCaseInsensitive()
                .appendPattern(pattern)
                .toFormatter(locale)
                .withResolverStyle(ResolverStyle.STRICT);
    }

    /** The cell as a value of the shape; empty when it isn't one, or might be another. */
    static Optional<JsonNode> as(Shape shape, JsonNode cell) {
        String text = text(cell);
        if (shape instanceof Shape.Number || shape instanceof Shape.Whole) {
            return number(cell, text)
                    .filter(number -> !(shape instanceof Shape.Whole) || isWhole(number))
                    .map(number -> shape instanceof Shape.Whole
                            ? Json.nodes().numberNode(number.longValueExact())
                            : Json.nodes().numberNode(number.scale() > 0 ? number : number.setScale(1)));
        } else if (shape instanceof Shape.Date) {
            return cell.isString() ? date(text).map(Json::of) : Optional.empty();
        } else if (shape instanceof Shape.YesNo) {
            return cell.isBoolean() ? Optional.of(cell) : yesNo(text);
        } else if (shape instanceof Shape.OneOf oneOf) {
            return oneOf.options().stream()
                    .filter(text::equalsIgnoreCase)
                    .findFirst()
                    .map(Json::of);
        }
        return Optional.of(Json.of(text));
    }

    /** A cell as people see it: {@code 3} and not {@code 3.0}. */
    static String text(JsonNode cell) {
        if (cell.isNumber()) {
            return plain(cell.decimalValue()).toPlainString();
        }
        return cell.isString() ? cell.stringValue().strip() : cell.isNull() ? "" : Json.write(cell);
    }

    private static BigDecimal plain(BigDecimal number) {
        BigDecimal plain = number.stripTrailingZeros();
        return plain.scale() < 0 ? plain.setScale(0) : plain;
    }

    private static boolean isWhole(BigDecimal number) {
        return plain(number).scale() == 0 && number.abs().compareTo(BigDecimal.valueOf(Long.MAX_VALUE)) < 0;
    }

    private static Optional<BigDecimal> number(JsonNode cell, String text) {
        if (cell.isNumber()) {
            return Optional.of(cell.decimalValue());
        } else if (text.length() > 30) {
            return Optional.empty();
        }
        if (PLAIN.matcher(text).matches()) {
            return Optional.of(new BigDecimal(text.replace(',', '.')));
        }
        Matcher grouped = GROUPED.matcher(text);
        if (!grouped.matches() || grouped.group(2).equals(grouped.group(3))) {
            return Optional.empty();
        }
        String sign = grouped.group(2);
        boolean once = grouped.group(1).indexOf(sign) == grouped.group(1).lastIndexOf(sign);
        if (".,".contains(sign) && once && grouped.group(3) == null) {
            return Optional.empty(); // a thousand, or one with three decimals
        }
        String whole = grouped.group(1).replace(sign, "");
        return Optional.of(new BigDecimal(grouped.group(4) == null ? whole : whole + "." + grouped.group(4)));
    }

    private static Optional<String> date(String text) {
        try {
            if (text.matches("\\d{4}-\\d{2}-\\d{2}(?:T00:00(?::00)?)?")) {
                return Optional.of(LocalDate.parse(text.substring(0, 10)).toString());
            }
            Matcher numeric = NUMERIC_DATE.matcher(text);
            if (numeric.matches()) {
                return numeric(numeric);
            }
        } catch (DateTimeException e) {
            return Optional.empty();
        }
        for (DateTimeFormatter worded : WORDED) {
            try {
                return Optional.of(LocalDate.parse(text, worded).toString());
            } catch (DateTimeException e) {
                continue;
            }
        }
        return Optional.empty();
    }

    /** Dots stand between day, month and year; slashes and dashes between month and day as well. */
    private static Optional<String> numeric(Matcher date) {
        int first = Integer.parseInt(date.group(1));
        int second = Integer.parseInt(date.group(3));
        int year = Integer.parseInt(date.group(4));
        if (date.group(2).equals(".") || first > 12 || first == second) {
            return Optional.of(LocalDate.of(year, second, first).toString());
        }
        return second > 12 ? Optional.of(LocalDate.of(year, first, second).toString()) : Optional.empty();
    }

    private static Optional<JsonNode> yesNo(String text) {
        String word = text.toLowerCase(Locale.ROOT);
        return YES.contains(word)
                ? Optional.of(Json.of(true))
                : NO.contains(word) ? Optional.of(Json.of(false)) : Optional.empty();
    }

    /** The longest beginning of a text, of a few words, that is a value of the shape. */
    static Optional<JsonNode> beginning(Shape shape, String text) {
        if (shape instanceof Shape.Text) {
            String line = text.strip();
            return line.isEmpty() ? Optional.empty() : Optional.of(Json.of(line));
        }
        String[] words = text.strip().split("\\s+", 6);
        for (int count = Math.min(words.length, 5); count > 0; count--) {
            String some = String.join(" ", java.util.Arrays.asList(words).subList(0, count));
            Optional<JsonNode> value =
                    some.isEmpty() ? Optional.empty() : as(shape, Json.of(some.replaceAll("[.,;]$", "")));
            if (value.isPresent()) {
                return value;
            }
        }
        return Optional.empty();
    }
}
