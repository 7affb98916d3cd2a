package servitor.service.dispatch;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Service;
import servitor.core.catalogue.Catalogue;
import servitor.core.catalogue.Catalogue.Ask;
import servitor.core.catalogue.Catalogue.Choices;
import servitor.core.handbook.Tool;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Asks an outside system what there is to choose from for a starting point, by the reading tools that it brings itself. */
@Service
public class StartingChoices {
    private static final int MOST = 200;

    private final ToolTry tries;

    StartingChoices(ToolTry tries) {
        this.tries = tries;
    }

    /** One thing to choose: what is told of it, and what people read. */
    public record Item(String value, String title) {}

    /**
     * What there is.
     *
     * @param reason why there is nothing; empty when there is
     */
    public record Offered(List<Item> items, String reason) {}

    /**
     * What there is for every ask that has choices, in order. One that depends on another takes what is told of that, or the first
     * there is.
     *
     * @throws IllegalArgumentException when something else is told than is asked for
     */
    public Map<String, Offered> of(Catalogue.Entry entry, Map<String, String> told, String person)
            throws InterruptedException {
        Map<String, String> values = Catalogue.values(entry, told);
        Map<String, Tool> tools = CheckedHandbook.of(Catalogue.adapt(entry, told, Map.of()))
                .handbook()
                .tools();
        Map<String, Offered> offered = new LinkedHashMap<>();
        for (Ask ask : entry.asks()) {
            if (ask.choices() != null) {
                Offered found = asked(ask.choices(), tools, values, person);
                offered.put(ask.name(), found);
                boolean there =
                        found.items().stream().anyMatch(item -> item.value().equals(values.get(ask.name())));
                if (!there && !found.items().isEmpty()) {
                    values.put(ask.name(), found.items().get(0).value());
                }
            }
        }
        return offered;
    }

    private Offered asked(Choices choices, Map<String, Tool> tools, Map<String, String> values, String person)
            throws InterruptedException {
        Tool tool = tools.get(choices.tool());
        if (tool == null || tool.effect().acts() || tool.personal()) {
            return new Offered(List.of(), "no tool that only reads is named for it");
        }
        ObjectNode inputs = Json.object();
        choices.given(values).forEach(inputs::put);
        ToolTry.Tried tried = tries.call(tool, inputs, person);
        if (!tried.problem().isEmpty()) {
            return new Offered(List.of(), tried.detail());
        }
        List<Item> items = new ArrayList<>();
        for (JsonNode one : tried.answer().path(choices.list())) {
            String value = one.path(choices.value()).asString("");
            if (!value.isEmpty() && items.size() < MOST) {
                items.add(new Item(value, one.path(choices.title()).asString(value)));
            }
        }
        return new Offered(items, items.isEmpty() ? "there are none" : "");
    }
}
