package servitor.connectors.http;

import java.util.List;
import java.util.Locale;
import org.jsoup.Jsoup;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import tools.jackson.databind.JsonNode;

/**
 * What the body of an answer says of why something wasn't done: the words of a problem (RFC 9457), or those that APIs commonly use,
 * or the text of whatever it is. Always short, always one line, and never markup.
 */
final class ErrorBody {
    private static final int LONGEST = 300;
    /** Where APIs put their words, the most telling first. */
    private static final List<String> WORDS = List.of(
            "/detail",
            "/error/message",
            "/error_description",
            "/message",
            "/errors/0/message",
            "/errors/0/detail",
            "/errors/0",
            "/error",
            "/title",
            "/fault/faultstring",
            "/reason",
            "/0/message");

    private ErrorBody() {}

    static String reason(String type, String body) {
        String start = body.length() > 100_000 ? body.substring(0, 100_000) : body;
        return oneLine(isJson(type, start) ? ofJson(start) : ofText(type, start));
    }

    private static boolean isJson(String type, String body) {
        return type.contains("json")
                || body.stripLeading().startsWith("{")
                || body.stripLeading().startsWith("[");
    }

    private static String ofJson(String text) {
        try {
            JsonNode body = Outside.read(text);
            for (String pointer : WORDS) {
                JsonNode found = body.at(pointer);
                if (found.isString() && !found.stringValue().isBlank()) {
                    return found.stringValue();
                }
            }
            return body.isString() ? body.stringValue() : body.isEmpty() ? "" : text;
        } catch (MalformedJson e) {
            return text;
        }
    }

    private static String ofText(String type, String text) {
        boolean markup = type.toLowerCase(Locale.ROOT).contains("html")
                || type.toLowerCase(Locale.ROOT).contains("xml")
                || text.stripLeading().startsWith("<");
        return markup ? Jsoup.parse(text).text() : text;
    }

    private static String oneLine(String text) {
        String line = text.replaceAll("[\\p{Cntrl}\\s\\u2028\\u2029]+", " ").strip();
        return line.length() <= LONGEST ? line : line.substring(0, LONGEST - 1) + "…";
    }
}
