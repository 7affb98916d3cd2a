package servitor.connectors.operation;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import servitor.core.handbook.HttpParameter;
import servitor.core.handbook.HttpParameter.Style;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** Writes values into requests in the styles of OpenAPI 3.1.1, section 4.8.12.6, which are those of RFC 6570. */
final class Written {
    private Written() {}

    /** One name with its value, both as they stand in a query or a form. */
    record Pair(String name, String value) {}

    /** A value can't be written in the style that is asked for. */
    static final class CantBeWritten extends RuntimeException {
        private static final long serialVersionUID = 1;

        CantBeWritten(String name, Style style) {
            super("‘" + name + "’ holds values within values, which have no form in the style "
                    + style.name().toLowerCase(java.util.Locale.ROOT).replace('_', '-'));
        }
    }

    /** A part of a path; a dot is encoded, too, so that no value is a step upwards. */
    static String inPath(HttpParameter at, JsonNode value) {
        UnaryOperator<String> encoded = text -> encode(text).replace(".", "%2E");
        String name = encode(at.name());
        if (at.style() == Style.JSON) {
            return encoded.apply(Json.write(value));
        }
        String between = !at.explode() ? "," : at.style() == Style.MATRIX ? ";" : at.style() == Style.LABEL ? "." : ",";
        boolean named = at.style() == Style.MATRIX;
        String start = named ? ";" : at.style() == Style.LABEL ? "." : "";
        if (value.isObject()) {
            String joined = members(at, value).entrySet().stream()
                    .map(one ->
                            encoded.apply(one.getKey()) + (at.explode() ? "=" : ",") + encoded.apply(one.getValue()))
                    .collect(Collectors.joining(between));
            return start + (named && !at.explode() ? name + "=" : "") + joined;
        }
        List<String> items = items(at, value).stream().map(encoded).toList();
        if (!named) {
            return start + String.join(between, items);
        }
        return at.explode()
                ? items.stream().map(item -> ";" + name + "=" + item).collect(Collectors.joining())
                : ";" + name + "=" + String.join(",", items);
    }

    /** The value of a header. */
    static String inHeader(HttpParameter at, JsonNode value) {
        if (at.style() == Style.JSON) {
            return Json.write(value);
        }
        return value.isObject()
                ? members(at, value).entrySet().stream()
                        .map(one -> one.getKey() + (at.explode() ? "=" : ",") + one.getValue())
                        .collect(Collectors.joining(","))
                : String.join(",", items(at, value));
    }

    /** What stands in a query, or in a form. */
    static List<Pair> inQuery(HttpParameter at, JsonNode value) {
        return switch (at.style()) {
            case JSON -> List.of(new Pair(encode(at.name()), encode(Json.write(value))));
            case DEEP_OBJECT -> deep(at, value);
            default -> value.isObject() ? ofObject(at, value) : ofList(at, value);
        };
    }

    private static List<Pair> deep(HttpParameter at, JsonNode value) {
        List<Pair> pairs = new ArrayList<>();
        if (!value.isObject()) {
            throw new CantBeWritten(at.name(), at.style());
        }
        value.properties().forEach(member -> {
            String name = encode(at.name() + "[" + member.getKey() + "]");
            List<JsonNode> values = member.getValue().isArray()
                    ? member.getValue().valueStream().toList()
                    : List.of(member.getValue());
            values.forEach(one -> pairs.add(new Pair(name, encode(plain(at, one)))));
        });
        return pairs;
    }

    private static List<Pair> ofObject(HttpParameter at, JsonNode value) {
        Map<String, String> members = members(at, value);
        if (at.explode()) {
            return members.entrySet().stream()
                    .map(one -> new Pair(encode(one.getKey()), encode(one.getValue())))
                    .toList();
        }
        return List.of(new Pair(
                encode(at.name()),
                members.entrySet().stream()
                        .map(one -> encode(one.getKey()) + delimiter(at) + encode(one.getValue()))
                        .collect(Collectors.joining(delimiter(at)))));
    }

    private static List<Pair> ofList(HttpParameter at, JsonNode value) {
        String name = encode(at.name());
        List<String> items = items(at, value).stream().map(Written::encode).toList();
        return at.explode()
                ? items.stream().map(item -> new Pair(name, item)).toList()
                : List.of(new Pair(name, String.join(delimiter(at), items)));
    }

    private static String delimiter(HttpParameter at) {
        return at.style() == Style.SPACE_DELIMITED ? "%20" : at.style() == Style.PIPE_DELIMITED ? "%7C" : ",";
    }

    private static List<String> items(HttpParameter at, JsonNode value) {
        return value.isArray()
                ? value.valueStream().map(item -> plain(at, item)).toList()
                : List.of(plain(at, value));
    }

    private static Map<String, String> members(HttpParameter at, JsonNode value) {
        Map<String, String> members = new LinkedHashMap<>();
        value.properties().forEach(member -> members.put(member.getKey(), plain(at, member.getValue())));
        return members;
    }

    private static String plain(HttpParameter at, JsonNode value) {
        if (value.isContainer()) {
            throw new CantBeWritten(at.name(), at.style());
        }
        return value.isNull() ? "" : value.asString("");
    }

    /** The pairs one after the other. */
    static String joined(List<Pair> pairs) {
        return pairs.stream().map(pair -> pair.name() + "=" + pair.value()).collect(Collectors.joining("&"));
    }

    /** Percent-encoded as RFC 3986 has it. */
    static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8)
                .replace("+", "%20")
                .replace("*", "%2A")
                .replace("%7E", "~");
    }
}
