package servitor.core.prompt;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import servitor.core.DemoHandbook;
import servitor.core.consent.Plan;
import servitor.core.document.WantedValue;
import servitor.core.handbook.Handbook;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt.Exchange;
import servitor.core.prompt.Prompt.Offered;
import servitor.core.prompt.Prompt.Picture;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.prompt.PromptLayout.Order;
import servitor.core.shape.Answers;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

/**
 * Every sort of prompt, word for word, under the number of its layout: whoever changes a word raises {@link PromptLayout#NUMBER} and has
 * the files written anew, by {@code mvn test -Dtest=LayoutSnapshotTests -DargLine=-Dwrite-prompts=1}.
 */
class LayoutSnapshotTests {
    private static final Path FOLDER = Path.of("src/test/resources/servitor/core/prompt/layout-" + PromptLayout.NUMBER);

    static Stream<Map.Entry<String, Prompt>> prompts() {
        Handbook handbook = DemoHandbook.edition(DemoHandbook.files()).handbook();
        PromptLayout layout =
                PromptLayout.of(handbook.house(), handbook.agents().get("purser"));
        JsonNode facts = Json.object().put("paid", 5);
        JsonNode request = Json.object().put("subject", "Late").put("text", "It was late.");
        Shape answer = Shape.Fields.of(Map.of("sailed", Shape.YES_NO));
        List<Offered> tools = List.of(
                new Offered("fares.find-sailing", "Finds one.", Json.object().put("type", "object")));
        List<WantedValue> values = List.of(new WantedValue("holder", Shape.TEXT, List.of(), false));
        Map<String, Prompt> prompts = new LinkedHashMap<>();
        prompts.put(
                "draft",
                layout.draft(
                        "Say it.", new Order(List.of("de"), false, "warm", 60, List.of("paid")), facts, request, null));
        prompts.put(
                "draft-again",
                layout.draft(
                        "Say it.",
                        new Order(List.of("en", "de"), true, "", 60, List.of()),
                        facts,
                        request,
                        Json.of(List.of(Json.object().put("version", "Hm.").put("said", "Kinder.")))));
        prompts.put("assess", layout.assess("Did it sail?", Answers.schema(answer), facts, request));
        prompts.put("note", layout.note("Sum it up.", 2, 5, "[page 3]\nIt rained.", List.of(3)));
        prompts.put("find", layout.find("Who holds it?", values, "letter.pdf", "[page 1]\nHolder: Ines"));
        prompts.put("look", layout.look("", values, "scan.pdf", List.of(new Picture("d1", 1))));
        prompts.put("plan", layout.plan("Find out.", facts, request, tools));
        prompts.put(
                "pursue",
                layout.pursue(
                        "Find out.",
                        Answers.schema(answer),
                        facts,
                        request,
                        Plan.of(Json.of(List.of("Look it up."))),
                        tools,
                        List.of(new Exchange(
                                new Wanted("c1", "fares.find-sailing", Json.object()), "not-found: none"))));
        return prompts.entrySet().stream();
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("prompts")
    void aPromptIsAsItWasUnderThisNumber(Map.Entry<String, Prompt> named) throws Exception {
        Prompt prompt = named.getValue();
        StringBuilder whole = new StringBuilder(prompt.system())
                .append("\n---\n")
                .append(prompt.user())
                .append("\n---\n")
                .append(Json.write(prompt.contract()))
                .append('\n');
        prompt.tools().forEach(tool -> whole.append(Json.write(tool)).append('\n'));
        prompt.exchanges().forEach(one -> whole.append(Json.write(one)).append('\n'));
        prompt.pictures().forEach(one -> whole.append(Json.write(one)).append('\n'));
        Path file = FOLDER.resolve(named.getKey() + ".txt");
        if (System.getProperty("write-prompts") != null) {
            Files.createDirectories(FOLDER);
            Files.writeString(file, whole);
        }
        assertThat(whole.toString()).isEqualTo(Files.readString(file));
    }
}
