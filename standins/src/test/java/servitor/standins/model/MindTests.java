package servitor.standins.model;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** What the stand-in says to requests in the form that the house asks them in. */
class MindTests {
    private static final String KIT = """
            {"kit":[{"item":"K-40","name":"Ticket scanner, splash-proof","price":310.0,"left":6},
                    {"item":"K-41","name":"Ticket scanner, for the office","price":190.0,"left":12}]}""";
    private static final String FIND = tool("kit__find-kit", "Finds kit by a word.", Map.of("word", "string"));
    private static final String SUPPLY = tool("kit__supply-kit", "Sends one item of kit.", Map.of("item", "string"));
    private static final String ASK = tool("case__ask", "Asks people.", Map.of("question", "string"));

    private static String tool(String name, String description, Map<String, String> inputs) {
        ObjectNode tool = Asked.JSON.createObjectNode().put("type", "function");
        ObjectNode function = tool.putObject("function").put("name", name).put("description", description);
        ObjectNode parameters = function.putObject("parameters").put("type", "object");
        ObjectNode properties = parameters.putObject("properties");
        inputs.forEach((input, type) -> properties.putObject(input).put("type", type));
        parameters.set("required", Asked.JSON.valueToTree(inputs.keySet()));
        return tool.toString();
    }

    private static String fence(String name, JsonNode data) {
        return "<<<outside " + name + " 1\n" + data + "\n>>>outside " + name + " 1\n";
    }

    /** A request as the house lays it out. */
    private static final class Request {
        final ObjectNode body = Asked.JSON.createObjectNode();
        private final ObjectNode facts = Asked.JSON.createObjectNode();
        private final ObjectNode request = Asked.JSON.createObjectNode();
        private final ArrayNode exchanges = Asked.JSON.createArrayNode();
        private String instruction = "Do it.";
        private String form = "language: en\nat most 90 words";
        private String system = "";

        Request says(String subject, String text) {
            request.put("subject", subject).put("text", text);
            return this;
        }

        Request field(String name, String value) {
            request.withObject("/fields").put(name, value);
            return this;
        }

        Request fact(String name, Object value) {
            facts.set(
                    name,
                    value instanceof String json && json.startsWith("{")
                            ? Asked.tree(json)
                            : Asked.JSON.valueToTree(value));
            return this;
        }

        Request instructed(String words) {
            instruction = words;
            return this;
        }

        Request formed(String words) {
            form = words;
            return this;
        }

        Request ruled(String... rules) {
            system = "Rules of your job:\n- " + String.join("\n- ", rules) + "\n";
            return this;
        }

        Request asksFor(String properties) {
            ObjectNode schema =
                    body.withObject("/response_format/json_schema/schema").put("type", "object");
            schema.set("properties", Asked.tree(properties));
            return this;
        }

        Request offers(String... tools) {
            ArrayNode list = body.putArray("tools");
            for (String tool : tools) {
                list.add(Asked.tree(tool));
            }
            return this;
        }

        Request after(String tool, String args, String result) {
            String id = "c" + exchanges.size();
            ObjectNode call = exchanges
                    .addObject()
                    .put("role", "assistant")
                    .withArray("tool_calls")
                    .addObject();
            call.put("id", id).putObject("function").put("name", tool).put("arguments", args);
            exchanges.addObject().put("role", "tool").put("tool_call_id", id).put("content", result);
            return this;
        }

        private JsonNode whole() {
            ArrayNode messages = body.putArray("messages");
            messages.addObject().put("role", "system").put("content", system);
            messages.addObject()
                    .put("role", "user")
                    .put(
                            "content",
                            "# Instruction\n" + instruction + "\n\n# Form\n" + form + "\n\n# Facts\n"
                                    + fence("facts", facts) + "\n# The request\n" + fence("request", request));
            messages.addAll(exchanges);
            return body;
        }

        JsonNode answer() {
            return Asked.tree(((Mind.Words) Mind.say(whole())).text());
        }

        JsonNode call() {
            List<ObjectNode> calls = ((Mind.Calls) Mind.say(whole())).calls();
            assertThat(calls).hasSize(1);
            return calls.get(0).path("function");
        }
    }

    @Test
    void fieldsAndFactsCountBeforeWordsOfTheText() {
        JsonNode call = new Request()
                .says("Two hours late", "The boat AB-1111 was late.")
                .field("booking", "SK-600601")
                .offers("""
                        {"type":"function","function":{"name":"fares__find-booking","description":"Finds one booking.",
                         "parameters":{"type":"object","properties":{"reference":{"type":"string","pattern":"^[A-Z]{2}-[0-9]{4,6}$"}},"required":["reference"]}}}""")
                .call();
        assertThat(Asked.tree(call.path("arguments").asString())
                        .path("reference")
                        .asString())
                .isEqualTo("SK-600601");
    }

    @Test
    void whatToolsAnsweredIsTheInputOfTheNext() {
        JsonNode call = new Request()
                .says("A scanner", "I need a scanner for the boarding on deck in the rain.")
                .offers(FIND, SUPPLY)
                .after("kit__find-kit", "{\"word\":\"scanner\"}", KIT)
                .call();
        assertThat(call.path("name").asString()).isEqualTo("kit__supply-kit");
        assertThat(Asked.tree(call.path("arguments").asString()).path("item").asString())
                .as("the one whose words were said")
                .isEqualTo("K-40");
    }

    @Test
    void amongSeveralCandidatesPeopleAreAsked() {
        JsonNode call = new Request()
                .says("A scanner", "I need a scanner.")
                .offers(FIND, SUPPLY, ASK)
                .after("kit__find-kit", "{\"word\":\"scanner\"}", KIT)
                .call();
        assertThat(call.path("name").asString()).isEqualTo("case__ask");
        assertThat(call.path("arguments").asString()).contains("K-40", "K-41", "splash-proof");
    }

    @Test
    void thePersonsChoiceIsTakenAndADeclineEndsIt() {
        Request asked = new Request()
                .says("A scanner", "I need a scanner.")
                .offers(FIND, SUPPLY, ASK)
                .asksFor("{\"sent\":{\"type\":\"boolean\"}}")
                .after("kit__find-kit", "{\"word\":\"scanner\"}", KIT);
        JsonNode call = asked.after("case__ask", "{}", "{\"answer\":\"K-41\"}").call();
        assertThat(call.path("arguments").asString()).contains("K-41");
        JsonNode declined = new Request()
                .says("A scanner", "I need a scanner.")
                .offers(FIND, SUPPLY, ASK)
                .asksFor("{\"sent\":{\"type\":\"boolean\"}}")
                .after("kit__find-kit", "{\"word\":\"scanner\"}", KIT)
                .after("case__ask", "{}", "{\"declined\":\"none of these\"}")
                .answer();
        assertThat(declined.path("sent").asBoolean()).isFalse();
    }

    @Test
    void whatCostsTooMuchIsNoCandidate() {
        JsonNode call = new Request()
                .says("A scanner", "I need a scanner.")
                .fact("limit", 200)
                .offers(FIND, SUPPLY, ASK)
                .after("kit__find-kit", "{\"word\":\"scanner\"}", KIT)
                .call();
        assertThat(call.path("arguments").asString()).contains("K-41");
    }

    @Test
    void whatIsntThereIsAskedAboutAndLookedUpAgain() {
        Request missing = new Request()
                .says("A scanner", "I need a scanner.")
                .offers(FIND, ASK)
                .after("kit__find-kit", "{\"word\":\"scanner\"}", "not-found: there is none");
        assertThat(missing.call().path("arguments").asString()).contains("isn't there. Is it there now?");
        assertThat(missing.after("case__ask", "{}", "{\"answer\":\"it is there now\"}")
                        .call()
                        .path("name")
                        .asString())
                .isEqualTo("kit__find-kit");
    }

    @Test
    void somethingIsDoneWhenAToolHasDoneIt() {
        Request done = new Request()
                .says("A scanner", "I need a scanner.")
                .offers(FIND, SUPPLY)
                .asksFor("{\"sent\":{\"type\":\"boolean\"},\"delivery\":{\"type\":\"string\"}}")
                .after("kit__find-kit", "{\"word\":\"scanner\"}", KIT)
                .after("kit__supply-kit", "{\"item\":\"K-41\"}", "{\"delivery\":\"D-700\",\"item\":\"K-41\"}");
        assertThat(done.answer().path("sent").asBoolean()).isTrue();
        assertThat(done.answer().path("delivery").asString()).isEqualTo("D-700");
        JsonNode refused = new Request()
                .says("A scanner", "I need a scanner.")
                .offers(SUPPLY)
                .fact("item", "K-41")
                .asksFor("{\"sent\":{\"type\":\"boolean\"}}")
                .after("kit__supply-kit", "{\"item\":\"K-41\"}", "refused: not allowed")
                .answer();
        assertThat(refused.path("sent").asBoolean()).isFalse();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "We waited two hours on the quay. | delay",
                "Wir haben zwei Stunden gewartet, das Schiff war verspätet. | delay",
                "Le bateau avait deux heures de retard. | delay",
                "The steward was rude to my mother. | staff",
                "Mein Sitz war schmutzig. | comfort",
            })
    void labelsAreChosenByTheirSigns(String text, String label) {
        assertThat(topic(new Request().says("", text))).isEqualTo(label);
    }

    private static String topic(Request request) {
        return request.asksFor("{\"topic\":{\"enum\":[\"delay\",\"staff\",\"comfort\",\"other\"]}}")
                .answer()
                .path("topic")
                .asString();
    }

    @Test
    void labelsAreChosenByHintsOfTheInstruction() {
        Request request = new Request()
                .says("", "My gangway pass was eaten by a seal.")
                .instructed("Say what it is about. comfort: seats, noise, seals or other animals.");
        assertThat(topic(request)).isEqualTo("comfort");
    }

    @Test
    void aLabelNothingSpeaksForIsAGuess() {
        JsonNode answer = new Request()
                .says("", "Well.")
                .asksFor("{\"topic\":{\"enum\":[\"delay\",\"other\"]}}")
                .answer();
        assertThat(answer.path("topic").asString()).isEqualTo("other");
        assertThat(answer.path("sure").asDouble()).isLessThan(0.5);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "See the photo of the leak. | true",
                "There is no photo yet. | false",
                "Foto fehlt noch. | false",
                "Voir la photo. | true",
                "The protest on deck was long. | false",
            })
    void aYesIsOneUnlessItIsDenied(String text, boolean photo) {
        assertThat(new Request()
                        .says("", text)
                        .asksFor("{\"photo\":{\"type\":\"boolean\"}}")
                        .answer()
                        .path("photo")
                        .asBoolean())
                .isEqualTo(photo);
    }

    @Test
    void valuesAreExtractedByNameAndType() {
        JsonNode answer = new Request()
                .says("Ein Koffer", "Am 3. November 2026 habe ich 2 Koffer vergessen, der blaue wiegt 12,5 kg.")
                .asksFor("""
                        {"day":{"type":"string","format":"date"},"weight":{"type":"number"},"language":{"type":"string"},
                         "keywords":{"type":"array","items":{"type":"string"}}}""")
                .answer();
        assertThat(answer.path("day").asString()).isEqualTo("2026-11-03");
        assertThat(answer.path("language").asString()).isEqualTo("de");
        assertThat(answer.path("keywords").toString()).contains("koffer");
    }

    @Test
    void aTextKeepsToTheRulesOfTheBrief() {
        Request request = new Request()
                .says("Two hours late", "The boat was late.")
                .fact("requester", "Ines Duarte")
                .instructed("Say what went wrong, in one sentence.");
        assertThat(text(request)).startsWith("Good day Ines, ");
        assertThat(text(request.ruled("Greet with ‘Ahoy’."))).startsWith("Ahoy Ines, ");
        assertThat(text(request.ruled("Greet with ‘Ahoy’.", "No names.", "Sign with ‘Your ferry line’.")))
                .startsWith("Ahoy, thank you")
                .endsWith("Your ferry line");
        assertThat(text(request.formed("language: de\ntone: formal\nat most 90 words")
                        .ruled("Plain words.")))
                .startsWith("Sehr geehrte Damen und Herren, danke");
    }

    @Test
    void aTextHasOneApologyNoPromiseAndNoMoreWordsThanAllowed() {
        Manner manner = manner("One apology at most.", "Never promise anything.");
        assertThat(
                        manner.keep(
                                "Good day, we are sorry. We apologise once more. We guarantee that it won't happen. The boat sails again."))
                .isEqualTo("Good day, we are sorry. The boat sails again.");
        assertThat(text(new Request()
                                .says("Two hours late", "Late.")
                                .formed("language: en\nat most 8 words")
                                .instructed("Say what went wrong."))
                        .split("\\s+"))
                .hasSizeLessThanOrEqualTo(8);
    }

    private static Manner manner(String... rules) {
        return new Manner(new Asked(new Request().ruled(rules).whole()), "en");
    }

    private static String text(Request request) {
        return request.asksFor("{\"text\":{\"type\":\"string\"}}")
                .answer()
                .path("text")
                .asString();
    }

    @Test
    void amountsOfTheFactsHaveTheirCurrency() {
        assertThat(text(new Request()
                        .says("Pay", "What did I get?")
                        .fact("slip", Map.of("net", 2100.5))
                        .instructed("Say what the net is.")))
                .contains("2100.50 EUR");
    }

    @Test
    void whatTheRequestNamesIsToldFromTheNewestOfAList() {
        assertThat(text(new Request()
                        .says("My last payslip", "What is the remark on it?")
                        .fact(
                                "slips",
                                Map.of(
                                        "rows",
                                        List.of(Map.of("remark", "two night watches"), Map.of("remark", "older"))))
                        .instructed("Say what the newest payslip holds that the question is about.")))
                .contains("The remark: two night watches.")
                .doesNotContain("older");
    }

    @Test
    void aTranslationIsMarkedAsThePhraseBooks() {
        assertThat(text(new Request()
                        .says("", "the boat was late")
                        .instructed("Translate it.")
                        .formed("language: de\nat most 90 words")))
                .startsWith("[phrase book]")
                .contains("das Schiff", "war verspätet");
    }

    @Test
    void whatIsntInStoreIsNotMadeUpOutOfOtherWords() {
        Request stool = new Request()
                .says("A new stool", "The stool in the ticket office wobbles.")
                .instructed("Look by one word, such as scanner, radio or laptop.")
                .offers(FIND)
                .asksFor("{\"kit\":{\"type\":\"array\",\"items\":{\"type\":\"object\"}}}")
                .after("kit__find-kit", "{\"word\":\"stool\"}", "{\"kit\":[]}");
        assertThat(stool.answer().path("kit")).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "My ticket scanner at the counter is dying. | scanner",
                "A scanner would help. | scanner",
                "Could I scan tickets with something? | scanner",
                "Une radio pour le pont, s'il vous plaît. | radio",
                "Mein Rechner ist alt. | laptop",
            })
    void ofTheWordsTheInstructionNamesTheOneThatIsMeantIsLookedFor(String text, String word) {
        JsonNode call = new Request()
                .says("Something for my work", text)
                .instructed("Look by one word, such as scanner, radio or laptop.")
                .offers(FIND)
                .call();
        assertThat(Asked.tree(call.path("arguments").asString()).path("word").asString())
                .isEqualTo(word);
    }

    @Test
    void whatItJudgedBeforeIsJudgedAnew() {
        JsonNode answer = new Request()
                .says("My scarf", "I left it on board.")
                .fact("check", Map.of("missing", List.of("colour"), "reason", "r", "sure", 0.9))
                .fact("reply", Map.of("text", "It is red."))
                .instructed("Say whether the colour is missing.")
                .asksFor("{\"missing\":{\"type\":\"array\",\"items\":{\"type\":\"string\"}}}")
                .answer();
        assertThat(answer.path("missing")).isEmpty();
    }

    @Test
    void whereNothingIsToldItSaysSo() {
        assertThat(new Request()
                        .asksFor("{\"topic\":{\"enum\":[\"delay\",\"other\"]}}")
                        .answer()
                        .path("sure")
                        .asDouble())
                .isZero();
    }

    @Test
    void toolsThatOnlyLookAreCalledTogether() {
        Request request = new Request()
                .says("A scanner", "I need a scanner.")
                .fact("title", "deckhand")
                .offers(FIND, tool("kit__price-limit", "Says what may be spent.", Map.of("title", "string")));
        assertThat(((Mind.Calls) Mind.say(request.whole())).calls()).hasSize(2);
        request.body.put("parallel_tool_calls", false);
        assertThat(((Mind.Calls) Mind.say(request.whole())).calls()).hasSize(1);
    }
}
