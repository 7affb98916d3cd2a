package servitor.core.expression;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import servitor.core.document.FoundAt;
import servitor.core.json.Json;
import servitor.core.json.Outside;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;

/**
 * A value of a handbook in which texts may hold {@code ${…}}. A text that is only {@code ${…}} keeps the value's type;
 * otherwise the values are written into the text. Filling it keeps track of where the result came from.
 */
public final class Template {
    private sealed interface Part {}

    private record Fixed(JsonNode value) implements Part {}

    /** {@code offset} is where the expression begins within its text, counted from 0. */
    private record Value(Expression expression, int offset) implements Part {}

    private record Text(List<Part> parts) implements Part {}

    private record Fields(Map<String, Part> fields) implements Part {}

    private record Items(List<Part> items) implements Part {}

    private final Part part;
    private final Set<Path> paths;

    private Template(Part part) {
        this.part = part;
        Set<Path> found = new LinkedHashSet<>();
        collect(part, found);
        this.paths = Set.copyOf(found);
    }

    /** Reads a template out of plain JSON; the position in {@link BadExpression} counts within the text at fault. */
    public static Template parse(JsonNode source) throws BadExpression {
        return new Template(part(source));
    }

    public static Template parse(String text) throws BadExpression {
        return parse(Json.of(text));
    }

    /** Every name the template reads. */
    public Set<Path> paths() {
        return paths;
    }

    /**
     * One expression of the template.
     *
     * @param key the fields and positions that lead to its text, joined with dots; empty when the template is one text
     * @param offset where it begins within that text, counted from 0
     * @param whole whether the text is nothing else, so that the value keeps its type
     */
    public record Placed(String key, Expression expression, int offset, boolean whole) {}

    /** Every expression with where it stands. */
    public List<Placed> expressions() {
        List<Placed> found = new ArrayList<>();
        place("", part, found);
        return found;
    }

    private static void place(String key, Part part, List<Placed> found) {
        String prefix = key.isEmpty() ? "" : key + ".";
        if (part instanceof Value value) {
            found.add(new Placed(key, value.expression(), value.offset(), true));
        } else if (part instanceof Text text) {
            for (Part piece : text.parts()) {
                if (piece instanceof Value value) {
                    found.add(new Placed(key, value.expression(), value.offset(), false));
                }
            }
        } else if (part instanceof Fields fields) {
            fields.fields().forEach((name, field) -> place(prefix + name, field, found));
        } else if (part instanceof Items items) {
            for (int i = 0; i < items.items().size(); i++) {
                place(prefix + i, items.items().get(i), found);
            }
        }
    }

    /** What the template says, as it was written. */
    public String text() {
        return text(part);
    }

    private static String text(Part part) {
        if (part instanceof Fixed fixed) {
            return fixed.value().isString() ? fixed.value().stringValue() : Json.write(fixed.value());
        } else if (part instanceof Value value) {
            return "${" + value.expression().text() + "}";
        } else if (part instanceof Text text) {
            return text.parts().stream().map(Template::text).collect(java.util.stream.Collectors.joining());
        } else if (part instanceof Fields fields) {
            return fields.fields().entrySet().stream()
                    .map(e -> e.getKey() + ": " + text(e.getValue()))
                    .collect(java.util.stream.Collectors.joining(", "));
        }
        return ((Items) part).items().stream().map(Template::text).collect(java.util.stream.Collectors.joining(", "));
    }

    /** The path, when the template is nothing but {@code ${path}}. */
    public Optional<Path> asPath() {
        return part instanceof Value value ? value.expression().asPath() : Optional.empty();
    }

    /** The names of the fields, when the template is a map. */
    public Set<String> fieldNames() {
        return part instanceof Fields fields ? fields.fields().keySet() : Set.of();
    }

    /** The part under {@code name}, when the template is a map; else one that gives an empty text. */
    public Template field(String name) {
        Part found = part instanceof Fields fields ? fields.fields().get(name) : null;
        return new Template(found == null ? new Fixed(Json.of("")) : found);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Template that && that.part.equals(part);
    }

    @Override
    public int hashCode() {
        return part.hashCode();
    }

    /** The same map with one more field, which is always {@code value}; a template that is no map counts as an empty one. */
    public Template with(String name, JsonNode value) {
        Map<String, Part> fields = new LinkedHashMap<>(part instanceof Fields map ? map.fields() : Map.of());
        fields.put(name, new Fixed(value));
        return new Template(new Fields(fields));
    }

    /** The value of each {@code ${…}} in the template, one by one. */
    public List<TracedValue> spans(Map<String, TracedValue> scope) throws EvaluationFailed {
        List<Value> values = new ArrayList<>();
        gather(part, values);
        Map<String, JsonNode> plain = new LinkedHashMap<>();
        scope.forEach((name, value) -> plain.put(name, value.value()));
        List<TracedValue> spans = new ArrayList<>();
        for (Value value : values) {
            spans.add(fillValue(value.expression(), scope, plain));
        }
        return spans;
    }

    /** The path, when the field {@code name} is nothing but a path. */
    public Optional<Path> pathOf(String name) {
        return part instanceof Fields fields && fields.fields().get(name) instanceof Value value
                ? value.expression().asPath()
                : Optional.empty();
    }

    /** The value, when nothing in the template depends on a scope. */
    public Optional<JsonNode> asConstant() {
        try {
            return paths.isEmpty() ? Optional.of(fill(Map.of()).value()) : Optional.empty();
        } catch (EvaluationFailed e) {
            return Optional.empty();
        }
    }

    /** The value for {@code scope}, with the places it came from. */
    public TracedValue fill(Map<String, TracedValue> scope) throws EvaluationFailed {
        Map<String, JsonNode> plain = new LinkedHashMap<>();
        scope.forEach((name, value) -> plain.put(name, value.value()));
        TracedValue filled = fill(part, scope, plain);
        Optional<String> beyond = Outside.fault(filled.value());
        if (beyond.isPresent()) { // a page that wraps a value into itself again and again
            throw new EvaluationFailed("‘" + shortened(text()) + "’ grows beyond what is kept: " + beyond.get());
        }
        return filled;
    }

    private static String shortened(String text) {
        return text.length() <= 80 ? text : text.substring(0, 80) + "…";
    }

    private static TracedValue fill(Part part, Map<String, TracedValue> scope, Map<String, JsonNode> plain)
            throws EvaluationFailed {
        if (part instanceof Fixed fixed) {
            return TracedValue.of(fixed.value(), Origin.HANDBOOK);
        }
        if (part instanceof Value value) {
            return fillValue(value.expression(), scope, plain);
        }
        Gathered gathered = new Gathered();
        if (part instanceof Text text) {
            StringBuilder out = new StringBuilder();
            for (Part piece : text.parts()) {
                JsonNode filled = gathered.add("", fill(piece, scope, plain));
                out.append(filled.isString() ? filled.stringValue() : filled.isNull() ? "" : Json.write(filled));
            }
            return gathered.whole(Json.of(out.toString()));
        }
        if (part instanceof Fields fields) {
            var object = Json.object();
            for (Map.Entry<String, Part> field : fields.fields().entrySet()) {
                object.set(field.getKey(), gathered.add(field.getKey(), fill(field.getValue(), scope, plain)));
            }
            return gathered.parts(object);
        }
        var array = Json.mapper().createArrayNode();
        for (Part item : ((Items) part).items()) {
            array.add(gathered.add(String.valueOf(array.size()), fill(item, scope, plain)));
        }
        return gathered.parts(array);
    }

    private static TracedValue fillValue(
            Expression expression, Map<String, TracedValue> scope, Map<String, JsonNode> plain)
            throws EvaluationFailed {
        Optional<Path> path = expression.asPath();
        if (path.isPresent() && scope.containsKey(path.get().root())) {
            TracedValue exact = scope.get(path.get().root()).at(path.get().fields());
            if (exact != null) {
                return exact;
            }
        }
        Gathered gathered = new Gathered();
        for (Path used : expression.paths()) {
            TracedValue root = scope.get(used.root());
            TracedValue at = root == null ? null : root.at(used.fields());
            TracedValue read = at != null ? at : root;
            if (read != null && expression.onlyTests(used)) {
                gathered.origins(read);
            } else if (read != null) {
                gathered.add("", read);
            }
        }
        return gathered.whole(expression.evaluate(plain));
    }

    /** Collects the origins of what a composed value is made of. */
    private static final class Gathered {
        private Set<Origin> origins = Set.of();
        private final Map<String, Set<Origin>> each = new LinkedHashMap<>();
        private final Set<String> machine = new LinkedHashSet<>();
        private final Map<String, FoundAt> found = new LinkedHashMap<>();

        JsonNode add(String field, TracedValue piece) {
            Set<Origin> all = piece.originsAt("");
            origins = TracedValue.union(origins, all);
            each.put(field, all);
            piece.echoes().forEach((key, value) -> each.put(field + "." + key, value));
            piece.machine().forEach(at -> machine.add(at.isEmpty() ? field : field.isEmpty() ? at : field + "." + at));
            piece.found().forEach((path, at) -> found.put(path.isEmpty() ? field : field + "." + path, at));
            return piece.value();
        }

        /** The value depends on it, and carries none of it. */
        void origins(TracedValue piece) {
            origins = TracedValue.union(origins, piece.originsAt(""));
        }

        TracedValue whole(JsonNode value) {
            return new TracedValue(
                    value, origins.isEmpty() ? Set.of(Origin.HANDBOOK) : origins, Map.of(), !machine.isEmpty());
        }

        TracedValue parts(JsonNode value) {
            return new TracedValue(value, origins.isEmpty() ? Set.of(Origin.HANDBOOK) : origins, each, machine, found);
        }
    }

    private static Part part(JsonNode source) throws BadExpression {
        if (source.isString()) {
            return text(source.stringValue());
        }
        if (source.isObject()) {
            Map<String, Part> fields = new LinkedHashMap<>();
            for (Map.Entry<String, JsonNode> field : source.properties()) {
                fields.put(field.getKey(), part(field.getValue()));
            }
            return new Fields(fields);
        }
        if (source.isArray()) {
            List<Part> items = new ArrayList<>();
            for (JsonNode item : source) {
                items.add(part(item));
            }
            return new Items(items);
        }
        return new Fixed(source);
    }

    private static Part text(String text) throws BadExpression {
        List<Part> parts = new ArrayList<>();
        int from = 0;
        for (int open = text.indexOf("${"); open >= 0; open = text.indexOf("${", from)) {
            int close = closing(text, open + 2);
            if (close < 0) {
                throw new BadExpression("a ‘${’ is never closed with ‘}’", 1, open + 1);
            }
            if (open > from) {
                parts.add(new Fixed(Json.of(text.substring(from, open))));
            }
            try {
                parts.add(new Value(Expression.parse(text.substring(open + 2, close)), open + 2));
            } catch (BadExpression e) {
                throw new BadExpression(
                        String.valueOf(e.getMessage()), e.line(), e.line() > 1 ? e.column() : open + 2 + e.column());
            }
            from = close + 1;
        }
        if (parts.isEmpty()) {
            return new Fixed(Json.of(text));
        }
        if (from < text.length()) {
            parts.add(new Fixed(Json.of(text.substring(from))));
        }
        return parts.size() == 1 ? parts.get(0) : new Text(parts);
    }

    /** Finds the brace that closes an expression, passing over braces of maps and in quoted texts. */
    private static int closing(String text, int from) {
        int depth = 0;
        char quote = 0;
        for (int i = from; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quote != 0) {
                if (c == '\\') {
                    i++;
                } else if (c == quote) {
                    quote = 0;
                }
            } else if (c == '"' || c == '\'') {
                quote = c;
            } else if (c == '{') {
                depth++;
            } else if (c == '}' && depth-- == 0) {
                return i;
            }
        }
        return -1;
    }

    private static void collect(Part part, Set<Path> found) {
        List<Value> values = new ArrayList<>();
        gather(part, values);
        values.forEach(value -> found.addAll(value.expression().paths()));
    }

    private static void gather(Part part, List<Value> found) {
        if (part instanceof Value value) {
            found.add(value);
        } else if (part instanceof Text text) {
            text.parts().forEach(piece -> gather(piece, found));
        } else if (part instanceof Fields fields) {
            fields.fields().values().forEach(field -> gather(field, found));
        } else if (part instanceof Items items) {
            items.items().forEach(item -> gather(item, found));
        }
    }
}
