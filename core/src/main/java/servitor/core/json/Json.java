package servitor.core.json;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.cfg.DateTimeFeature;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.NullNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The one way this code writes and digests JSON, and reads again what it has written. Decimals stay exact, and digests are taken
 * over the canonical form of RFC 8785. What comes from outside is read by {@link Outside}, whose bounds are much closer.
 */
public final class Json {
    /** Far deeper than anything that is written; canonicalising recurses, so there must be some end. */
    private static final int DEEPEST = 400;

    private static final int LONGEST = 16 * 1024 * 1024;

    private static final JsonMapper MAPPER = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(StreamReadConstraints.builder()
                            .maxNestingDepth(DEEPEST)
                            .maxNumberLength(LONGEST)
                            .maxStringLength(LONGEST)
                            .maxDocumentLength(LONGEST)
                            .build())
                    .build())
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS, DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .disable(SerializationFeature.FAIL_ON_EMPTY_BEANS)
            .disable(DateTimeFeature.WRITE_DATES_AS_TIMESTAMPS)
            .build();

    private Json() {}

    public static JsonMapper mapper() {
        return MAPPER;
    }

    public static JsonNodeFactory nodes() {
        return JsonNodeFactory.instance;
    }

    public static ObjectNode object() {
        return MAPPER.createObjectNode();
    }

    /** Reads what was written here, or says what is wrong with it; an empty text is an error like any other malformed document. */
    public static JsonNode read(String text) throws MalformedJson {
        try {
            JsonNode node = MAPPER.readTree(text);
            if (node == null || node.isMissingNode()) {
                throw new MalformedJson("the document is empty", null);
            }
            return node;
        } catch (JacksonException e) {
            throw new MalformedJson(e.getOriginalMessage(), e);
        }
    }

    public static <T> T read(String text, Class<T> type) {
        return MAPPER.readValue(text, type);
    }

    /** Turns any value into a JSON tree; null becomes JSON null. */
    public static JsonNode of(@Nullable Object value) {
        return value == null ? NullNode.getInstance() : MAPPER.valueToTree(value);
    }

    public static String write(@Nullable Object value) {
        return MAPPER.writeValueAsString(value);
    }

    public static String pretty(@Nullable Object value) {
        return MAPPER.writerWithDefaultPrettyPrinter().writeValueAsString(value);
    }

    /** The canonical form of RFC 8785; integers beyond 2^53 stand in it as texts. */
    public static byte[] canonical(JsonNode node) {
        return Canonical.bytes(node);
    }

    /** SHA-256 of the canonical form, as 64 lower-case hexadecimal digits. */
    public static String digest(JsonNode node) {
        return sha256(canonical(node));
    }

    /** SHA-256 of the UTF-8 bytes, as 64 lower-case hexadecimal digits. */
    public static String digest(String text) {
        return sha256(text.getBytes(StandardCharsets.UTF_8));
    }

    public static String sha256(byte[]... parts) {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            for (byte[] part : parts) {
                digest.update(part);
            }
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java platform has SHA-256", e);
        }
    }

    /** Whether a number is within the range of IEEE doubles, however exactly. */
    public static boolean isDouble(JsonNode number) {
        return Double.isFinite(
                number.isBigDecimal() ? number.decimalValue().doubleValue() : number.asDouble(Double.NaN));
    }
}
