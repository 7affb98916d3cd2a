package servitor.connectors.model;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.math.BigDecimal;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.model.ChatModel.Calls;
import servitor.connectors.model.ChatModel.Conversation;
import servitor.connectors.model.ChatModel.Declined;
import servitor.connectors.model.ChatModel.Message;
import servitor.connectors.model.ChatModel.Nothing;
import servitor.connectors.model.ChatModel.Said;
import servitor.connectors.model.ChatModel.Structured;
import servitor.connectors.model.ChatModel.Usage;
import servitor.connectors.model.ChatModel.Words;
import servitor.core.engine.Reply;
import servitor.core.handbook.ModelSettings;
import servitor.core.handbook.ModelSettings.AnswerAs;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt.Exchange;
import servitor.core.prompt.Prompt.Offered;
import servitor.core.prompt.Prompt.Wanted;
import tools.jackson.databind.JsonNode;

/** The chat-completions format over real HTTP on loopback. */
class ChatModelTests {
    private final AtomicReference<JsonNode> asked = new AtomicReference<>();
    private final AtomicReference<String> path = new AtomicReference<>();
    private HttpServer server;
    private String body = "{}";
    private int status = 200;
    private final Map<String, String> refuses = new HashMap<>();
    private final Map<String, String> headers = new HashMap<>();
    private final AtomicInteger questions = new AtomicInteger();

    @BeforeEach
    void start() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 5);
        server.createContext("/", exchange -> {
            try (exchange) {
                path.set(exchange.getRequestURI().getPath());
                asked.set(Json.read(
                        new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8), JsonNode.class));
                JsonNode refused = asked.get();
                int code = status;
                String answer = body;
                for (Map.Entry<String, String> one : refuses.entrySet()) {
                    if (refused.has(one.getKey())
                            && refused.path(one.getKey()).toString().contains(one.getValue())) {
                        code = 400;
                        answer = "{\"error\":{\"message\":\"Unsupported parameter: '" + one.getKey() + "'. "
                                + (one.getKey().equals("max_tokens") ? "Use 'max_completion_tokens' instead." : "")
                                + "\"}}";
                    }
                }
                questions.incrementAndGet();
                headers.forEach(exchange.getResponseHeaders()::set);
                byte[] bytes = answer.getBytes(StandardCharsets.UTF_8);
                exchange.sendResponseHeaders(code, bytes.length);
                exchange.getResponseBody().write(bytes);
            }
        });
        server.start();
    }

    @AfterEach
    void stop() {
        server.stop(0);
    }

    private final ChatModel model = new ChatModel();
    private ModelSettings settings = ModelSettings.USUAL;
    private List<byte[]> pictures = List.of();

    private Said ask(List<Offered> tools, List<Exchange> exchanges, List<Message> after) throws InterruptedException {
        URI base = URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/v1/");
        return model.ask(
                new Access(base, new Credentials.None(), true),
                "a-model",
                settings,
                new Conversation("Be kind.", "Say it.", tools, exchanges, after, pictures),
                Json.object().put("type", "object"),
                Deadline.in(Duration.ofSeconds(20)));
    }

    private Said ask() throws InterruptedException {
        return ask(List.of(), List.of(), List.of());
    }

    private void answers(String content) {
        body = Json.write(Json.object()
                .put("model", "m-1")
                .<tools.jackson.databind.node.ObjectNode>set(
                        "usage", Json.object().put("prompt_tokens", 9).put("total_tokens", 12))
                .set("choices", Json.of(List.of(java.util.Map.of("message", java.util.Map.of("content", content))))));
    }

    @Test
    void itAsksForAnAnswerThatFitsTheSchema() throws Exception {
        answers("{\"text\":\"Hello.\"}");
        Said said = ask();
        assertThat(said)
                .isEqualTo(new Structured(
                        Json.object().put("text", "Hello."), "{\"text\":\"Hello.\"}", new Usage("m-1", 12, 9, false)));
        assertThat(path.get()).isEqualTo("/v1/chat/completions");
        assertThat(asked.get().path("response_format").path("type").asString()).isEqualTo("json_schema");
        assertThat(asked.get().path("messages").path(0).path("role").asString()).isEqualTo("system");
        assertThat(asked.get().path("messages").path(1).path("content").asString())
                .isEqualTo("Say it.");
        assertThat(asked.get().has("tools")).isFalse();
    }

    @Test
    void anAnswerBetweenCodeFencesIsRead() throws Exception {
        answers("```json\n{\"text\":\"Hello.\"}\n```");
        assertThat(ask())
                .isInstanceOfSatisfying(
                        ChatModel.Structured.class,
                        said -> assertThat(said.answer())
                                .isEqualTo(Json.object().put("text", "Hello.")));
    }

    @Test
    void wordsThatArentJsonAreKeptAsTheyCame() throws Exception {
        answers("I would rather chat.");
        assertThat(ask())
                .isInstanceOfSatisfying(
                        Words.class, words -> assertThat(words.raw()).isEqualTo("I would rather chat."));
    }

    @Test
    void toolsAreOfferedUnderNamesTheFormatAllows() throws Exception {
        body =
                "{\"model\":\"m-1\",\"usage\":{\"total_tokens\":3},\"choices\":[{\"message\":{\"content\":null,\"tool_calls\":["
                        + "{\"id\":\"c1\",\"type\":\"function\",\"function\":{\"name\":\"fares__find-booking\",\"arguments\":\"{\\\"reference\\\":\\\"SK-1\\\"}\"}}]}}]}";
        Said said = ask(
                List.of(new Offered(
                        "fares.find-booking", "Finds one.", Json.object().put("type", "object"))),
                List.of(new Exchange(
                        new Wanted("c0", "fares.find-sailing", Json.object().put("number", "S-1")), "not-found: none")),
                List.of());
        assertThat(said)
                .isEqualTo(new Calls(
                        List.of(new Wanted(
                                "c1", "fares.find-booking", Json.object().put("reference", "SK-1"))),
                        new Usage("m-1", 3, 0, false)));
        JsonNode function = asked.get().path("tools").path(0).path("function");
        assertThat(function.path("name").asString()).isEqualTo("fares__find-booking");
        assertThat(function.path("parameters").path("type").asString()).isEqualTo("object");
        JsonNode call = asked.get().path("messages").path(2);
        assertThat(call.path("tool_calls").path(0).path("function").path("name").asString())
                .isEqualTo("fares__find-sailing");
        JsonNode result = asked.get().path("messages").path(3);
        assertThat(result.path("role").asString()).isEqualTo("tool");
        assertThat(result.path("tool_call_id").asString()).isEqualTo("c0");
        assertThat(result.path("content").asString()).isEqualTo("not-found: none");
    }

    private Said called(String calls) throws Exception {
        body =
                "{\"model\":\"m-1\",\"usage\":{\"total_tokens\":3},\"choices\":[{\"message\":{\"content\":null,\"tool_calls\":["
                        + calls + "]}}]}";
        return ask();
    }

    @Test
    void argumentsMayComeAsAnObjectThoughTheFormatHasThemAsText() throws Exception {
        assertThat(called("{\"id\":\"c1\",\"function\":{\"name\":\"a__b\",\"arguments\":{\"reference\":\"SK-1\"}}}"))
                .isInstanceOfSatisfying(
                        Calls.class,
                        said -> assertThat(said.wanted())
                                .containsExactly(
                                        new Wanted("c1", "a.b", Json.object().put("reference", "SK-1"))));
    }

    @Test
    void moreCallsAtOnceThanAnybodyNeedsAreNotTaken() throws Exception {
        String one = "{\"id\":\"c\",\"function\":{\"name\":\"a__b\",\"arguments\":\"{}\"}}";
        assertThat(called(String.join(",", java.util.Collections.nCopies(64, one))))
                .isInstanceOf(Calls.class);
        assertThat(called(String.join(",", java.util.Collections.nCopies(65, one))))
                .isInstanceOfSatisfying(
                        Words.class, said -> assertThat(said.why()).contains("65 calls at once"));
    }

    @Test
    void whatIsSaidAfterwardsComesLast() throws Exception {
        answers("{}");
        ask(
                List.of(),
                List.of(),
                List.of(new Message("assistant", "Nonsense."), new Message("user", "Again, please.")));
        assertThat(asked.get().path("messages")).hasSize(4);
        assertThat(asked.get().path("messages").path(3).path("content").asString())
                .isEqualTo("Again, please.");
    }

    @Test
    void argumentsThatArentAnObjectAreWordsToBeCorrected() throws Exception {
        for (String arguments : List.of("[1]", "{broken", "\\\"text\\\"")) {
            body =
                    "{\"choices\":[{\"message\":{\"tool_calls\":[{\"id\":\"c\",\"function\":{\"name\":\"x\",\"arguments\":\""
                            + arguments + "\"}}]}}]}";
            assertThat(ask()).as(arguments).isInstanceOf(Words.class);
        }
    }

    @Test
    void anAnswerWithoutWordsIsNothing() throws Exception {
        for (String empty : List.of("{}", "{\"choices\":[]}", "{\"choices\":[{\"message\":{\"content\":7}}]}", "[]")) {
            body = empty;
            assertThat(ask()).as(empty).isInstanceOf(Nothing.class);
        }
    }

    @Test
    void aRefusalIsTold() throws Exception {
        status = 429;
        body = "{\"detail\":\"slow down\"}";
        assertThat(ask())
                .isInstanceOfSatisfying(
                        Nothing.class,
                        nothing -> assertThat(nothing.reply())
                                .isInstanceOfSatisfying(
                                        Reply.Failed.class,
                                        failed -> assertThat(failed.detail()).contains("slow down")));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "Sure! Here it is:\n```json\n{\"text\":\"a } b\"}\n```\nAnything else?",
                "<think>It might be {\"text\":\"no\"}.</think>\n{\"text\":\"a } b\"}",
                "It might be {\"text\":\"no\"}.</think>{\"text\":\"a } b\"}",
                "The answer is {\"text\":\"a } b\"} {as asked}.",
                "\uFEFF  {\"text\":\"a } b\"}"
            })
    void jsonIsFoundInWhateverIsSaidAroundIt(String words) throws Exception {
        answers(words);
        assertThat(ask())
                .isInstanceOfSatisfying(
                        Structured.class,
                        said -> assertThat(said.answer())
                                .isEqualTo(Json.object().put("text", "a } b")));
    }

    @Test
    void whatCanBeReadInTwoWaysIsNotGuessedAt() throws Exception {
        answers("Either {\"text\":\"a\"} or {\"text\":\"b\"}.");
        assertThat(ask())
                .isInstanceOfSatisfying(
                        Words.class, words -> assertThat(words.why()).contains("more than one object"));
    }

    @Test
    void contentMayComeInParts() throws Exception {
        body =
                "{\"choices\":[{\"message\":{\"content\":[{\"type\":\"text\",\"text\":\"{\\\"a\\\":\"},{\"type\":\"text\",\"text\":\"1}\"}]}}]}";
        assertThat(ask())
                .isInstanceOfSatisfying(
                        Structured.class,
                        said -> assertThat(said.answer())
                                .isEqualTo(Json.object().put("a", 1)));
    }

    @Test
    void emptyArgumentsAreNone() throws Exception {
        body =
                "{\"choices\":[{\"finish_reason\":\"tool_calls\",\"message\":{\"content\":\"\",\"tool_calls\":[{\"id\":\"c\",\"function\":{\"name\":\"a__b\",\"arguments\":\"\"}}]}}]}";
        assertThat(ask())
                .isInstanceOfSatisfying(
                        Calls.class,
                        calls -> assertThat(calls.wanted()).containsExactly(new Wanted("c", "a.b", Json.object())));
    }

    @Test
    void tokensThatNobodyCountsAreEstimated() throws Exception {
        body = "{\"choices\":[{\"message\":{\"content\":\"{}\"}}]}";
        assertThat(ask()).isInstanceOfSatisfying(Structured.class, said -> {
            assertThat(said.usage().estimated()).isTrue();
            assertThat(said.usage().tokens()).isPositive();
        });
    }

    @Test
    void aModelThatDeclinesSaysSo() throws Exception {
        body = "{\"choices\":[{\"message\":{\"content\":null,\"refusal\":\"I can't help with that.\"}}]}";
        assertThat(ask())
                .isInstanceOfSatisfying(
                        Declined.class,
                        declined ->
                                assertThat(declined.words()).isEqualTo("the model declined: I can't help with that."));
        body = "{\"choices\":[{\"finish_reason\":\"content_filter\",\"message\":{\"content\":\"{}\"}}]}";
        assertThat(ask()).isInstanceOf(Declined.class);
    }

    @Test
    void anAnswerThatWasCutOffIsNoAnswer() throws Exception {
        body = "{\"choices\":[{\"finish_reason\":\"length\",\"message\":{\"content\":\"{}\"}}]}";
        assertThat(ask())
                .isInstanceOfSatisfying(
                        Words.class, words -> assertThat(words.why()).contains("cut off"));
    }

    @Test
    void whatAServerDoesntTakeIsLearntOnce() throws Exception {
        settings = new ModelSettings(BigDecimal.ZERO, AnswerAs.SCHEMA, 500, ModelSettings.MAX_TOKENS);
        refuses.put("max_tokens", "500");
        refuses.put("response_format", "json_schema");
        refuses.put("temperature", "0");
        answers("{}");
        assertThat(ask()).isInstanceOf(Structured.class);
        assertThat(questions.get()).isEqualTo(4);
        assertThat(asked.get().path("max_completion_tokens").asInt()).isEqualTo(500);
        assertThat(asked.get().path("response_format").path("type").asString()).isEqualTo("json_object");
        assertThat(asked.get().path("messages").path(0).path("content").asString())
                .startsWith("Be kind.")
                .contains("JSON Schema");
        assertThat(ask()).isInstanceOf(Structured.class);
        assertThat(questions.get()).as("it isn't asked in the old way again").isEqualTo(5);
    }

    @Test
    void anErrorThatSaysNothingOfHowItWasAskedIsNotAskedAround() throws Exception {
        status = 400;
        body = "{\"error\":{\"message\":\"The prompt is too long.\"}}";
        assertThat(ask()).isInstanceOf(Nothing.class);
        assertThat(questions.get()).isEqualTo(1);
    }

    @Test
    void whenToAskAgainIsTold() throws Exception {
        status = 429;
        headers.put("Retry-After", "17");
        assertThat(((Nothing) ask()).reply())
                .isInstanceOfSatisfying(
                        Reply.Failed.class, failed -> assertThat(failed.again()).isEqualTo(Duration.ofSeconds(17)));
        headers.put("Retry-After", "soon");
        assertThat(((Nothing) ask()).reply())
                .isInstanceOfSatisfying(
                        Reply.Failed.class, failed -> assertThat(failed.again()).isZero());
    }

    @Test
    void picturesStandInTheQuestion() throws Exception {
        pictures = List.of(new byte[] {1, 2, 3});
        answers("{}");
        ask();
        JsonNode content = asked.get().path("messages").path(1).path("content");
        assertThat(content.path(0).path("text").asString()).isEqualTo("Say it.");
        assertThat(content.path(1).path("image_url").path("url").asString()).isEqualTo("data:image/png;base64,AQID");
    }
}
