package servitor.core.handbook.openapi;

import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.schema.CoreSchema;
import servitor.core.json.Json;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Reads descriptions as they are published: JSON or YAML, up to twenty megabytes, of which a handbook then takes what it needs. */
public final class Documents {
    /** In characters. */
    public static final int LONGEST = 20_000_000;

    private static final int DEEPEST = 200;
    private static final JsonMapper JSON = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(StreamReadConstraints.builder()
                            .maxNestingDepth(DEEPEST)
                            .maxStringLength(1_000_000)
                            .build())
                    .build())
            .build();
    private static final LoadSettings YAML = LoadSettings.builder()
            .setSchema(new CoreSchema())
            .setAllowDuplicateKeys(false)
            .setMaxAliasesForCollections(50)
            .setCodePointLimit(LONGEST)
            .build();

    private Documents() {}

    /** Throws {@link IllegalArgumentException} with a sentence that says why it can't be read. */
    public static JsonNode read(String text) {
        if (text.length() > LONGEST) {
            throw new IllegalArgumentException("it is longer than " + LONGEST + " characters");
        }
        if (text.stripLeading().startsWith("{")) {
            try {
                return JSON.readTree(text);
            } catch (JacksonException e) {
                return yaml(text, "it isn't valid JSON: " + e.getOriginalMessage());
            }
        }
        return yaml(text, "");
    }

    private static JsonNode yaml(String text, String whyNoJson) {
        try {
            return Json.of(new Load(YAML).loadFromString(text));
        } catch (YamlEngineException | IllegalArgumentException | StackOverflowError e) {
            String first = String.valueOf(e.getMessage()).lines().findFirst().orElse("");
            String why = e instanceof YamlEngineException
                    ? "it isn't valid YAML: " + first
                    : "it is nested too deeply, or has keys that aren't texts";
            throw new IllegalArgumentException(whyNoJson.isEmpty() ? why : whyNoJson, e);
        }
    }
}
