package servitor.core.handbook.openapi;

import java.nio.charset.StandardCharsets;
import java.util.HexFormat;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** Follows references within one document (RFC 6901). What leads outside of it leads nowhere: nothing is ever fetched. */
record Pointers(JsonNode document) {
    private static final int MOST = 20;
    private static final Pattern ENCODED = Pattern.compile("(?:%[0-9A-Fa-f]{2})+");

    /** What {@code reference} leads to; missing when that is nothing. */
    JsonNode at(String reference) {
        try {
            return reference.startsWith("#/")
                    ? document.at(decoded(reference.substring(1)))
                    : Json.nodes().missingNode();
        } catch (IllegalArgumentException e) {
            return Json.nodes().missingNode(); // no JSON pointer
        }
    }

    /** A pointer in a fragment may be percent-encoded (RFC 6901, section 6). */
    private static String decoded(String pointer) {
        return ENCODED.matcher(pointer)
                .replaceAll(bytes -> Matcher.quoteReplacement(
                        new String(HexFormat.of().parseHex(bytes.group().replace("%", "")), StandardCharsets.UTF_8)));
    }

    /** What stands for {@code node}: itself, or what its {@code $ref} leads to. */
    JsonNode meant(JsonNode node) {
        JsonNode meant = node;
        for (int i = 0; i < MOST && meant.path("$ref").isString(); i++) {
            meant = at(meant.path("$ref").stringValue());
        }
        return meant;
    }
}
