package servitor.core.rehearsal;

import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt;
import servitor.core.run.RunInput;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Asks models again where they would be told something that they were never told then; what they were told has its answer. */
final class Reasking {
    private final LookBack.Models models;
    private final Set<JsonNode> known = new HashSet<>();

    Reasking(LookBack.Past past, LookBack.Models models) {
        this.models = models;
        for (RecordedEntry recorded : past.trail()) {
            if (recorded.data() != null && recorded.entry().what().equals(TrailWord.MODEL_ASKED.word())) {
                String text = past.texts().of(recorded.data().path("material").asString(""));
                if (text != null) {
                    known.add(withoutIds(Json.read(text, JsonNode.class)));
                }
            }
        }
    }

    boolean knows(Prompt prompt) {
        return known.contains(withoutIds(Json.of(prompt)));
    }

    /** What it says now; empty when no more may be asked. */
    Optional<RunInput> ask(String id, Prompt prompt, String agent, String step) {
        return models.ask(id, prompt, agent, step);
    }

    /** A prompt without the ids that a model gave its calls: they say nothing. */
    static JsonNode withoutIds(JsonNode prompt) {
        prompt.path("exchanges").forEach(exchange -> {
            if (exchange.path("wanted") instanceof ObjectNode wanted) {
                wanted.remove("id");
            }
        });
        return prompt;
    }
}
