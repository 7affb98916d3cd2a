package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.shape.Shape;

/**
 * Reads what a value looks like, in the short form of pages ({@code yes/no}, {@code one of [a, b]}, {@code number},
 * {@code text}, {@code date}, {@code list of text}, a map of those, or a list with one such map for many) or as JSON Schema.
 */
final class ShapeReader {
    private static final Pattern ONE_OF = Pattern.compile("one of \\[(.*)]", Pattern.DOTALL);
    private static final Set<String> SCHEMA_TYPES = Set.of("object", "array", "string", "integer", "boolean");
    private static final Map<String, Shape> WORDS = Map.of(
            "text", Shape.TEXT,
            "yes/no", Shape.YES_NO,
            "number", Shape.NUMBER,
            "whole number", Shape.WHOLE,
            "date", Shape.DATE,
            "anything", Shape.ANYTHING);
    /** What every answer of a model carries besides, so that an answer's own fields can't be called that. */
    static final List<String> CARRIED = List.of("reason", "sure");

    private final Findings findings;

    ShapeReader(Findings findings) {
        this.findings = findings;
    }

    Shape read(Yaml value) {
        if (value.isMap()) {
            if (value.get("$schema") != null
                    || (value.get("type") != null
                            && SCHEMA_TYPES.contains(value.get("type").text()))) {
                return schema(value);
            }
            return map(value);
        }
        if (value.isList() && value.items().size() == 1) {
            return new Shape.ListOf(read(value.items().get(0)));
        }
        if (value.isList() || value.isEmptyValue()) {
            return wrong(value, value.isList() ? "a list" : "nothing");
        }
        return word(value, value.text().strip());
    }

    /** A map of fields; anything else is a finding. */
    Shape.Fields map(Yaml value) {
        Map<String, Shape> fields = new LinkedHashMap<>();
        if (!value.isMap() && !value.isEmptyValue()) {
            wrong(value, value.text());
        }
        value.entries().forEach((name, shape) -> {
            if (!name.matches("[a-z_][a-zA-Z0-9_]*")) {
                findings.error(
                        value.placeOf(name),
                        Code.SHAPE,
                        "‘" + name + "’ can't be the name of a field.",
                        "Use letters, digits and ‘_’, so that conditions can read it.");
            } else {
                fields.put(name, read(shape));
            }
        });
        return Shape.Fields.of(fields);
    }

    private Shape word(Yaml at, String text) {
        Shape known = WORDS.get(text);
        if (known != null) {
            return known;
        }
        if (text.startsWith("list of ")) {
            return new Shape.ListOf(word(at, text.substring("list of ".length()).strip()));
        }
        Matcher oneOf = ONE_OF.matcher(text);
        if (oneOf.matches()) {
            List<String> options = new ArrayList<>();
            for (String option : oneOf.group(1).split(",")) {
                if (!option.isBlank()) {
                    options.add(option.strip().replaceAll("^[\"']|[\"']$", ""));
                }
            }
            if (options.size() >= 2) {
                return new Shape.OneOf(options);
            }
        }
        return wrong(at, text);
    }

    private Shape schema(Yaml value) {
        return servitor.core.json.Schemas.fault(value.json())
                .<Shape>map(fault -> {
                    findings.error(
                            value.place(), Code.SCHEMA, "This isn't JSON Schema: " + fault + ".", "Mend the schema.");
                    return Shape.ANYTHING;
                })
                .orElseGet(() -> Shape.ofSchema(value.json()));
    }

    private Shape wrong(Yaml value, String text) {
        findings.error(
                value.place(),
                Code.SHAPE,
                "‘" + (text.length() > 60 ? text.substring(0, 60) + "…" : text)
                        + "’ doesn't say what a value looks like.",
                "Write text, number, whole number, yes/no, date, \"one of [a, b]\", list of …, a map of those, or a JSON Schema.");
        return Shape.ANYTHING;
    }
}
