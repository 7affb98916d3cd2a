package servitor.core.handbook.read;

import java.math.BigDecimal;
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
import servitor.core.handbook.Place;
import servitor.core.handbook.Places;
import servitor.core.handbook.Step;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;

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
        if (!map.isMap() && !map.isEmptyValue()) {
            findings.error(
                    map.place(),
                    Code.TYPE,
                    "Here should stand a map of keys and values.",
                    "Write lines of the form ‘key: value’.");
        }
        for (String key : map.entries().keySet()) {
            if (!allowed.contains(key)) {
                findings.error(
                        map.placeOf(key),
                        Code.UNKNOWN_KEY,
                        "‘" + key + "’ is not a key that can stand here.",
                        Suggest.remedy(key, allowed));
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

    /** Where every value of the map stands. */
    Places places() {
        return map.places(map.place());
    }

    boolean has(String key) {
        return map.get(key) != null;
    }

    Yaml value(String key) {
        Yaml value = map.get(key);
        return value == null ? Yaml.nothing(map.place()) : value;
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
            missing(key);
            return "";
        }
        return text;
    }

    /** The value of a key that must be there, whatever it is. */
    Yaml needed(String key) {
        if (value(key).isEmptyValue()) {
            missing(key);
        }
        return value(key);
    }

    private void missing(String key) {
        findings.error(map.place(), Code.MISSING_KEY, "‘" + key + "’ is missing.", "Add a line ‘" + key + ": …’.");
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

    /** A whole number from 1 to {@code most}; 0 when the key isn't there. */
    int upTo(String key, int most) {
        int number = number(key, 0);
        if (number > most) {
            wrongType(key, value(key), "a whole number from 1 to " + most);
            return most;
        }
        return number;
    }

    /** An amount of money above zero; null when the key isn't there, or holds something else. */
    @Nullable
    BigDecimal amount(String key) {
        Yaml value = map.get(key);
        if (value == null) {
            return null;
        }
        if (!value.scalar().isNumber() || value.scalar().decimalValue().signum() <= 0) {
            wrongType(key, value, "an amount above zero, such as 2.50");
            return null;
        }
        return value.scalar().decimalValue();
    }

    /** A number between 0 and 1. */
    @Nullable
    Double share(String key) {
        Yaml value = map.get(key);
        if (value == null) {
            return null;
        }
        if (!value.scalar().isNumber()
                || value.scalar().asDouble(-1) < 0
                || value.scalar().asDouble(-1) > 1) {
            findings.error(
                    value.place(), Code.SURE, "‘" + key + "’ should be a number between 0 and 1.", "Write it as 0.7.");
            return null;
        }
        return value.scalar().asDouble(-1);
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
                    Code.DURATION,
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
                        Code.TYPE,
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

    /** The ways of a ‘go’ that is a map; each must be one of {@code answers}. A plain ‘go’ has none. */
    Map<String, String> goWays(List<String> answers) {
        Yaml go = map.get("go");
        if (go == null || !go.isMap()) {
            return Map.of();
        }
        Map<String, String> ways = ways("go");
        for (String way : ways.keySet()) {
            if (!answers.contains(way)) {
                findings.error(
                        go.placeOf(way), Code.WAY, "‘" + way + "’ is no answer here.", Suggest.remedy(way, answers));
            }
        }
        return ways;
    }

    /** A map of inputs as one template; nothing when the key is missing. */
    Template inputs(String key) {
        return inputs(value(key));
    }

    Template inputs(Yaml value) {
        if (!value.isMap() && !value.isEmptyValue()) {
            findings.error(value.place(), Code.TYPE, "Here should stand a map of inputs.", "Write ‘{ input: value }’.");
        }
        return value.isMap() ? template(value) : noInputs();
    }

    static Template noInputs() {
        try {
            return Template.parse(servitor.core.json.Json.object());
        } catch (BadExpression e) {
            throw new IllegalStateException("an empty map is always a template", e);
        }
    }

    /** A list of templates; a single one counts as a list of one. */
    List<Template> templates(String key) {
        List<Template> templates = new ArrayList<>();
        Yaml value = value(key);
        if (value.isList()) {
            value.items().forEach(item -> templates.add(template(item)));
        } else if (!value.isEmptyValue()) {
            templates.add(template(value));
        }
        return templates;
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
        if (value.isMap() || value.isList()) {
            (value.isMap() ? value.entries().values() : value.items()).forEach(this::template); // each at its own place
        }
        try {
            return Template.parse(value.isEmptyValue() ? servitor.core.json.Json.of("") : value.json());
        } catch (BadExpression e) {
            if (!value.isMap() && !value.isList()) {
                badExpression(value.place(), e);
            }
            return value.isMap() ? noInputs() : constant("");
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
                Code.EXPRESSION,
                "This expression can't be read: "
                        + String.valueOf(e.getMessage()).strip() + ".",
                "Texts in an expression need quotes, equality is ‘==’, and ‘&&’ and ‘||’ join conditions.");
    }

    private void wrongType(String key, Yaml value, String wanted) {
        String reference = value.place().file().startsWith("rehearsals/") ? "rehearsals" : "runbooks";
        findings.error(
                value.place(),
                Code.TYPE,
                "‘" + key + "’ should be " + wanted + ".",
                "See the reference of this key in docs/" + reference + ".md.");
    }
}
