package servitor.core.intake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** What systems post; the events are those of the CloudEvents specification and its JSON format. */
class EventBodyTests {
    private static final String STRUCTURED = "application/cloudevents+json; charset=utf-8";
    private static final String BATCHED = "application/cloudevents-batch+json";
    private static final String EVENT = """
            {"specversion": "1.0", "type": "com.example.someevent", "source": "/mycontext", "subject": null,
             "id": "C234-1234-1234", "time": "2018-04-05T17:31:00Z", "comexampleextension1": "value",
             "datacontenttype": "application/json", "data": {"appinfoA": "abc", "appinfoB": 123, "appinfoC": true}}
            """;

    private static List<OutsideEvent> read(String type, Map<String, String> headers, String body)
            throws UnreadableEvent {
        return EventBody.read(type, headers::get, body.getBytes(StandardCharsets.UTF_8));
    }

    @Test
    void anEventStandsInItsBody() throws UnreadableEvent {
        assertThat(read(STRUCTURED, Map.of(), EVENT))
                .containsExactly(new OutsideEvent(
                        "C234-1234-1234",
                        "/mycontext",
                        "com.example.someevent",
                        "",
                        "2018-04-05T17:31:00Z",
                        Json.read("{\"appinfoA\": \"abc\", \"appinfoB\": 123, \"appinfoC\": true}", JsonNode.class)));
    }

    @Test
    void anEventStandsInHeadersWithItsDataAsTheBody() throws UnreadableEvent {
        Map<String, String> headers = Map.of(
                "ce-specversion", "1.0",
                "ce-type", "com.example.someevent",
                "ce-id", "1234-1234-1234",
                "ce-source", "/mycontext/subcontext",
                "ce-subject", "Euro%20%E2%82%AC%20%F0%9F%98%80 100%");
        assertThat(read("application/json", headers, "{\"a\": 1}"))
                .singleElement()
                .satisfies(event -> {
                    assertThat(event.id()).isEqualTo("1234-1234-1234");
                    assertThat(event.source()).isEqualTo("/mycontext/subcontext");
                    assertThat(event.subject()).isEqualTo("Euro € 😀 100%");
                    assertThat(event.data()).isEqualTo(Json.object().put("a", 1));
                });
        assertThat(read("text/plain", headers, "all is well").get(0).data()).isEqualTo(Json.of("all is well"));
    }

    @Test
    void eventsComeTogether() throws UnreadableEvent {
        assertThat(read(BATCHED, Map.of(), "[" + EVENT + "," + EVENT.replace("C234", "C235") + "]"))
                .extracting(OutsideEvent::id)
                .containsExactly("C234-1234-1234", "C235-1234-1234");
        assertThat(read(BATCHED, Map.of(), "[]")).isEmpty();
    }

    @Test
    void dataMayBeInBase64() throws UnreadableEvent {
        String event = EVENT.replaceAll("(?s)\"data\": .*", "\"data_base64\": \"eyJhIjogMX0=\"}");
        assertThat(read(STRUCTURED, Map.of(), event).get(0).data())
                .isEqualTo(Json.object().put("a", 1));
        assertThat(read(STRUCTURED, Map.of(), event.replace("application/json", "text/plain"))
                        .get(0)
                        .data())
                .isEqualTo(Json.of("{\"a\": 1}"));
    }

    @Test
    void plainJsonHasTheIdItWasSentWith() throws UnreadableEvent {
        assertThat(read("application/json", Map.of("webhook-id", "msg_1"), "[1, 2]"))
                .containsExactly(OutsideEvent.plain("msg_1", Json.read("[1, 2]", JsonNode.class)));
        assertThat(read("", Map.of(), "7").get(0).id()).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "{",
                "[]",
                "7",
                "{}",
                "{\"specversion\": \"0.3\", \"id\": \"1\", \"source\": \"s\", \"type\": \"t\"}",
                "{\"specversion\": 1.0, \"id\": \"1\", \"source\": \"s\", \"type\": \"t\"}",
                "{\"specversion\": \"1.0\", \"id\": \"\", \"source\": \"s\", \"type\": \"t\"}",
                "{\"specversion\": \"1.0\", \"id\": 7, \"source\": \"s\", \"type\": \"t\"}",
                "{\"specversion\": \"1.0\", \"id\": \"1\", \"type\": \"t\"}",
                "{\"specversion\": \"1.0\", \"id\": \"a\\nb\", \"source\": \"s\", \"type\": \"t\"}",
                "{\"specversion\": \"1.0\", \"id\": \"1\", \"source\": \"s\", \"type\": \"t\", \"data\": 1, \"data_base64\": \"eA==\"}",
                "{\"specversion\": \"1.0\", \"id\": \"1\", \"source\": \"s\", \"type\": \"t\", \"data_base64\": \"%%\"}",
            })
    void whatIsNoEventIsSaidToBeSo(String body) {
        assertThatThrownBy(() -> read(STRUCTURED, Map.of(), body)).isInstanceOf(UnreadableEvent.class);
        assertThatThrownBy(() -> read(BATCHED, Map.of(), "[" + EVENT + "," + body + "]"))
                .as("beside others")
                .isInstanceOf(UnreadableEvent.class);
    }

    @Test
    void whatGoesBeyondABoundIsSaidToBeSo() {
        String long501 = EVENT.replace("/mycontext", "x".repeat(501));
        assertThatThrownBy(() -> read(STRUCTURED, Map.of(), long501)).isInstanceOf(UnreadableEvent.class);
        String many = "[" + (EVENT + ",").repeat(EventBody.MOST) + EVENT + "]";
        assertThatThrownBy(() -> read(BATCHED, Map.of(), many)).isInstanceOf(UnreadableEvent.class);
        assertThatThrownBy(() -> read("application/json", Map.of(), "[".repeat(100) + "]".repeat(100)))
                .isInstanceOf(UnreadableEvent.class);
        assertThatThrownBy(() -> read("application/cloudevents+avro", Map.of(), "x"))
                .isInstanceOf(UnreadableEvent.class);
    }
}
