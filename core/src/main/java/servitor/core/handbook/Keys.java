package servitor.core.handbook;

import java.time.Duration;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.BadExpression;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;

/** Reads the keys of one YAML map; every problem becomes a finding and a harmless value takes its place. */
final class Keys {
    private final Yaml map;
    private final Findings findings;

    private Keys(Yaml map, Findings findings) {
        this.map = map;
        this.findings = findings;
    }

    /** Starts reading {@code map}, in which only {@code allowed} keys may stand. */
    static Keys of(Yaml map, Findings findings, List<String> allowed) {
        if (!map.isMap()) {
            findings.error(
                    map.place(),
                    "type",
                    "Here should stand a map of keys and values.",
                    "Write lines of the form ‘key: value’.");
        }
        for (String key : map.entries().keySet()) {
            if (!allowed.contains(key)) {
                findings.error(
                        map.placeOf(key),
                        "unknown-key",
                        "‘" + key + "’ is not a key that can stand here.",
                        Suggest.mend(key, allowed));
            }
        }
        return new Keys(map, findings);
    }

    Place place() {
        return map.place();
    }

    Place placeOf(String key) {
        return map.placeOf(key);
    }

    boolean has(String key) {
        return map.get(key) != null;
    }

    Yaml value(String key) {
        Yaml value = map.get(key);
        return value == null ? Yaml.empty(map.place()) : value;
    }

    @Nullable
    String text(String key) {
        Yaml value = map.get(key);
        if (value == null || value.isEmptyValue()) {
            return null;
        }
        if (value.isMap() || value.isList()) {
            wrongType(key, value, "a text");
            return null;
        }
        return value.text();
    }

    String text(String key, String otherwise) {
        String text = text(key);
        return text == null ? otherwise : text;
    }

    String required(String key) {
        String text = text(key);
        if (text == null || text.isBlank()) {
            findings.error(map.place(), "missing-key", "‘" + key + "’ is missing.", "Add a line ‘" + key + ": …’.");
            return "";
        }
        return text;
    }

    boolean yes(String key) {
        Yaml value = map.get(key);
        if (value == null) {
            return false;
        }
        if (!value.scalar().isBoolean()) {
            wrongType(key, value, "true or false");
            return false;
        }
        return value.scalar().booleanValue();
    }

    int number(String key, int otherwise) {
        Yaml value = map.get(key);
        if (value == null) {
            return otherwise;
        }
        if (!value.scalar().isIntegralNumber()
                || !value.scalar().canConvertToInt()
                || value.scalar().intValue() < 1) {
            wrongType(key, value, "a whole number above zero");
            return otherwise;
        }
        return value.scalar().intValue();
    }

    @Nullable
    Duration duration(String key) {
        String text = text(key);
        if (text == null) {
            return null;
        }
        try {
            Duration duration = Duration.parse(text);
            if (duration.isNegative() || duration.isZero()) {
                throw new DateTimeParseException("not positive", text, 0);
            }
            return duration;
        } catch (DateTimeParseException e) {
            findings.error(
                    value(key).place(),
                    "duration",
                    "‘" + text + "’ is not a length of time.",
                    "Write it as in ISO 8601: PT30M for half an hour, P2D for two days.");
            return null;
        }
    }

    /** A list of texts; a single text counts as a list of one. */
    List<String> texts(String key) {
        Yaml value = map.get(key);
        List<String> texts = new ArrayList<>();
        if (value == null || value.isEmptyValue()) {
            return texts;
        }
        if (!value.isList() && !value.isMap()) {
            texts.add(value.text());
            return texts;
        }
        if (value.isMap()) {
            wrongType(key, value, "a list of texts");
        }
        for (Yaml item : value.items()) {
            if (item.isMap() || item.isList() || item.isEmptyValue()) {
                findings.error(
                        item.place(),
                        "type",
                        "This item of ‘" + key + "’ should be a text.",
                        "Put it in quotes if it holds ‘: ’ or ‘#’.");
            } else {
                texts.add(item.text());
            }
        }
        return texts;
    }

    /** A map of texts, in the order written. */
    Map<String, Yaml> entries(String key) {
        Yaml value = map.get(key);
        if (value == null || value.isEmptyValue()) {
            return Map.of();
        }
        if (!value.isMap()) {
            wrongType(key, value, "a map of keys and values");
        }
        return value.entries();
    }

    /** Ways to other steps, by the name of the answer or problem, as normalised addresses. */
    Map<String, String> ways(String key) {
        Map<String, String> ways = new LinkedHashMap<>();
        entries(key).forEach((name, target) -> ways.put(name, Step.address(target.text())));
        return ways;
    }

    @Nullable
    Expression condition(String key) {
        Yaml value = map.get(key);
        if (value == null || value.isEmptyValue()) {
            return null;
        }
        if (value.scalar().isBoolean()) {
            return expression(value.text(), value.place());
        }
        if (!value.scalar().isString()) {
            wrongType(key, value, "a condition in quotes");
            return null;
        }
        return expression(value.text(), value.place());
    }

    private @Nullable Expression expression(String text, Place place) {
        try {
            return Expression.parse(text);
        } catch (BadExpression e) {
            badExpression(place, e);
            return null;
        }
    }

    /** A template out of the value of {@code key}; the empty text when the key is missing. */
    Template template(String key) {
        return template(value(key));
    }

    Template template(Yaml value) {
        try {
            return Template.parse(value.isEmptyValue() ? servitor.core.json.Json.of("") : value.json());
        } catch (BadExpression e) {
            badExpression(value.place(), e);
            return constant("");
        }
    }

    static Template constant(String text) {
        try {
            return Template.parse(text.replace("${", "$ {"));
        } catch (BadExpression e) {
            throw new IllegalStateException("a text without expressions is always a template", e);
        }
    }

    private void badExpression(Place place, BadExpression e) {
        int shift = e.line() == 1 ? e.column() - 1 : 0;
        findings.error(
                new Place(place.file(), place.line() + e.line() - 1, place.column() + shift),
                "expression",
                "This expression can't be read: " + e.getMessage().strip() + ".",
                "Texts in an expression need quotes, equality is ‘==’, and ‘&&’ and ‘||’ join conditions.");
    }

    private void wrongType(String key, Yaml value, String wanted) {
        findings.error(
                value.place(),
                "type",
                "‘" + key + "’ should be " + wanted + ".",
                "See the reference of this key in docs/runbooks.md.");
    }
}
