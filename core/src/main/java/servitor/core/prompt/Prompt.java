package servitor.core.prompt;

import com.fasterxml.jackson.annotation.JsonIgnore;
import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;

/**
 * What a model is asked: the layout is fixed and numbered, so that a recorded request can be read years later.
 *
 * @param model the name of the model in the handbook
 * @param layout the number of the layout
 * @param tools what it may call before it answers; empty for nothing
 * @param exchanges the calls it has made so far in this conversation
 * @param pictures pages of documents that it looks at
 * @param parts {@code system} and {@code user} once more, by where each part is from; empty once it was kept
 */
@JsonInclude(JsonInclude.Include.NON_EMPTY)
public record Prompt(
        String model,
        int layout,
        String system,
        String user,
        Contract contract,
        List<Offered> tools,
        List<Exchange> exchanges,
        List<Picture> pictures,
        @JsonIgnore List<Part> parts) {

    /** Where a part of a prompt is from. */
    public enum Source {
        HOUSE,
        BRIEF,
        SERVITOR,
        STEP,
        FORM,
        EARLIER,
        PLAN,
        FACTS,
        REQUEST,
        DOCUMENT;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /** A part of what a model is told. */
    public record Part(Source from, String text) {
        /** About how many tokens it has, at four characters a token. */
        public int tokens() {
            return Prompt.tokens(text.length());
        }
    }

    /** A page of a document of the case, by the document's id; pages count from 1. */
    public record Picture(String document, int page) {}

    public Prompt {
        pictures = pictures == null ? List.of() : List.copyOf(pictures);
        tools = tools == null ? List.of() : List.copyOf(tools);
        exchanges = exchanges == null ? List.of() : List.copyOf(exchanges);
        parts = parts == null ? List.of() : List.copyOf(parts);
    }

    /** About how many tokens so many characters are. */
    public static int tokens(int characters) {
        return (characters + 3) / 4;
    }

    /** A tool as a model sees it: only the inputs it may choose. */
    public record Offered(String name, String description, JsonNode inputs) {}

    /** A call a model asks for. */
    public record Wanted(String id, String tool, JsonNode args) {}

    /** A call and what came of it, as the model is told. */
    public record Exchange(Wanted wanted, String result) {}

    /**
     * What the answer must look like.
     *
     * @param maxWords the most words a text may have; 0 for no limit
     */
    public record Contract(JsonNode schema, int maxWords) {
        /** Everything that is wrong with an answer; empty when it keeps the contract. */
        public List<String> violations(JsonNode answer) {
            List<String> violations = new ArrayList<>(Schemas.violations(schema, answer));
            if (maxWords > 0) {
                words("text", answer.path("text"), violations);
                answer.path("texts").properties().forEach(e -> words(e.getKey(), e.getValue(), violations));
            }
            return violations;
        }

        private void words(String name, JsonNode text, List<String> violations) {
            String written = text.asString("").strip();
            int words = written.isEmpty() ? 0 : written.split("\\s+").length;
            if (words > maxWords) {
                violations.add(name + " has " + words + " words, at most " + maxWords + " are allowed");
            }
        }
    }

    public String digest() {
        return Json.digest(Json.of(this));
    }
}
