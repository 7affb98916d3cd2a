package servitor.core.prompt;

import java.util.List;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * What a model is asked: the layout is fixed and numbered, so that a recorded request can be read years later.
 *
 * @param model the name of the model in the handbook
 * @param layout the number of the layout
 */
public record Prompt(String model, int layout, String system, String user, Contract contract) {

    /** What the answer must look like. */
    public record Contract(JsonNode schema, int maxWords) {
        /** Everything that is wrong with an answer; empty when it keeps the contract. */
        public List<String> violations(JsonNode answer) {
            List<String> violations = new java.util.ArrayList<>(servitor.core.json.Schemas.violations(schema, answer));
            String text = answer.path("text").asString("");
            int words = text.isBlank() ? 0 : text.strip().split("\\s+").length;
            if (maxWords > 0 && words > maxWords) {
                violations.add("text has " + words + " words, at most " + maxWords + " are allowed");
            }
            return violations;
        }
    }

    public String digest() {
        return Json.digest(Json.of(this));
    }
}
