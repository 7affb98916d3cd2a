package servitor.core.intake;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import tools.jackson.databind.JsonNode;

/**
 * Reads what a system posts: a JSON value, or CloudEvents 1.0 in each of the three ways its HTTP binding has (structured, binary and
 * batched; CloudEvents specification 1.0.2, and its JSON format and HTTP protocol binding).
 */
public final class EventBody {
    /** The most events in one message. */
    public static final int MOST = 1_000;

    private static final String STRUCTURED = "application/cloudevents+json";
    private static final String BATCHED = "application/cloudevents-batch+json";
    private static final String VERSION = "1.0";

    private EventBody() {}

    /**
     * The events that a message holds, in their order.
     *
     * @param type its media type, with or without parameters; empty for none
     * @param header the value of a header by its name, or null
     * @throws UnreadableEvent saying what is wrong with all of it
     */
    public static List<OutsideEvent> read(String type, Function<String, @Nullable String> header, byte[] body)
            throws UnreadableEvent {
        String media = type.split(";", 2)[0].strip().toLowerCase(Locale.ROOT);
        try {
            if (media.equals(STRUCTURED)) {
                return List.of(structured(json(body)));
            } else if (media.equals(BATCHED)) {
                return batched(json(body));
            } else if (media.startsWith("application/cloudevents")) {
                throw new UnreadableEvent("‘" + media + "’ isn't read; send " + STRUCTURED + " or " + BATCHED);
            } else if (header.apply("ce-specversion") != null) {
                return List.of(binary(media, header, body));
            }
            return List.of(OutsideEvent.plain(header(header, "webhook-id"), json(body)));
        } catch (IllegalArgumentException e) {
            throw new UnreadableEvent(String.valueOf(e.getMessage()));
        }
    }

    /** Whether events of a media type say in the body itself which they are, and not in headers beside it. */
    public static boolean namesItself(String type) {
        String media = type.split(";", 2)[0].strip().toLowerCase(Locale.ROOT);
        return media.equals(STRUCTURED) || media.equals(BATCHED);
    }

    private static List<OutsideEvent> batched(JsonNode all) throws UnreadableEvent {
        if (!all.isArray() || all.size() > MOST) {
            throw new UnreadableEvent("a batch is a list of at most " + MOST + " events");
        }
        List<OutsideEvent> events = new ArrayList<>();
        for (JsonNode one : all) {
            events.add(structured(one));
        }
        return events;
    }

    /** JSON event format, section 3. */
    private static OutsideEvent structured(JsonNode event) throws UnreadableEvent {
        if (!event.isObject()) {
            throw new UnreadableEvent("an event is an object");
        }
        return event(name -> attribute(event, name), data(event));
    }

    private static JsonNode data(JsonNode event) throws UnreadableEvent {
        JsonNode encoded = event.path("data_base64");
        if (encoded.isMissingNode()) {
            JsonNode data = event.get("data");
            return data == null ? Json.object() : data;
        } else if (event.has("data") || !encoded.isString()) {
            throw new UnreadableEvent("an event has ‘data’, or ‘data_base64’ as text, and not both");
        }
        String type = String.valueOf(attribute(event, "datacontenttype"));
        return content(type, Base64.getDecoder().decode(encoded.stringValue()));
    }

    private static @Nullable String attribute(JsonNode event, String name) {
        JsonNode value = event.path(name);
        if (!value.isMissingNode() && !value.isNull() && !value.isString()) {
            throw new IllegalArgumentException("‘" + name + "’ of an event is text");
        }
        return value.isString() ? value.stringValue() : null;
    }

    /** HTTP protocol binding, section 3.1: attributes in headers, percent-encoded; the body is the data. */
    private static OutsideEvent binary(String media, Function<String, @Nullable String> header, byte[] body)
            throws UnreadableEvent {
        return event(
                name -> {
                    String value = header.apply("ce-" + name);
                    return value == null ? null : decoded(value);
                },
                body.length == 0 ? Json.object() : content(media, body));
    }

    private static OutsideEvent event(Function<String, @Nullable String> attribute, JsonNode data)
            throws UnreadableEvent {
        if (!VERSION.equals(attribute.apply("specversion"))) {
            throw new UnreadableEvent("‘specversion’ of an event must be ‘" + VERSION + "’");
        }
        for (String needed : List.of("id", "source", "type")) {
            String value = attribute.apply(needed);
            if (value == null || value.isBlank()) {
                throw new UnreadableEvent("‘" + needed + "’ of an event is missing");
            }
        }
        return new OutsideEvent(
                text(attribute, "id"),
                text(attribute, "source"),
                text(attribute, "type"),
                text(attribute, "subject"),
                text(attribute, "time"),
                data);
    }

    private static String text(Function<String, @Nullable String> attribute, String name) {
        String value = attribute.apply(name);
        return value == null ? "" : value;
    }

    private static String header(Function<String, @Nullable String> header, String name) {
        return text(header, name).strip();
    }

    private static JsonNode content(String media, byte[] bytes) throws UnreadableEvent {
        boolean isJson = media.isEmpty()
                || media.equals("null")
                || media.split(";", 2)[0].strip().matches("(?i)[a-z]+/([a-z0-9.-]+\\+)?json");
        return isJson ? json(bytes) : Json.of(new String(bytes, StandardCharsets.UTF_8));
    }

    private static JsonNode json(byte[] bytes) throws UnreadableEvent {
        try {
            return Outside.read(new String(bytes, StandardCharsets.UTF_8));
        } catch (MalformedJson e) {
            throw new UnreadableEvent("it isn't JSON: " + e.getMessage());
        }
    }

    /** RFC 3986, section 2.1, and nothing else of it; what isn't encoded stands as it is. */
    private static String decoded(String value) {
        if (value.indexOf('%') < 0) {
            return value;
        }
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        for (int i = 0; i < value.length(); i++) {
            char c = value.charAt(i);
            if (c == '%'
                    && i + 2 < value.length()
                    && value.substring(i + 1, i + 3).matches("[0-9A-Fa-f]{2}")) {
                bytes.write(Integer.parseInt(value.substring(i + 1, i + 3), 16));
                i += 2;
            } else {
                bytes.writeBytes(String.valueOf(c).getBytes(StandardCharsets.UTF_8));
            }
        }
        return bytes.toString(StandardCharsets.UTF_8);
    }
}
