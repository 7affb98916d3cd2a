package servitor.core.intake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.json.Json;

class LineTests {
    private static List<OutsideEvent> read(String body, boolean json) throws UnreadableEvent {
        return LineBody.read(body.getBytes(StandardCharsets.UTF_8), json);
    }

    @Test
    void linesAreMessagesWhateverEndsThem() throws UnreadableEvent {
        assertThat(read("one\r\n\n  \ntwo\n", false))
                .extracting(event -> event.data().stringValue())
                .containsExactly("one", "two");
        assertThat(read("{\"a\": 1}\nnot json\n", true))
                .extracting(OutsideEvent::data)
                .containsExactly(Json.object().put("a", 1), Json.of("not json"));
        assertThat(read("", false)).isEmpty();
    }

    @Test
    void whatGoesBeyondABoundIsRefusedOrCut() throws UnreadableEvent {
        assertThatThrownBy(() -> read("x\n".repeat(LineBody.MOST + 1), false)).isInstanceOf(UnreadableEvent.class);
        assertThatThrownBy(() -> read("x".repeat(LineBody.LONGEST + 1), false)).isInstanceOf(UnreadableEvent.class);
        assertThat(read("x".repeat(10_000), false).get(0).data().stringValue()).hasSize(4_000);
    }

    @Test
    void aPatternReadsItsGroups() {
        LinePattern pattern = LinePattern.of("(?P<level>ERROR|FATAL) (?P<unit>[a-z0-9-]+)(: (?P<what>.*))?$");
        assertThat(pattern.shape().fields().keySet()).containsExactlyInAnyOrder("level", "unit", "what", "line");
        assertThat(pattern.read("09:02 ERROR pump-2: no pressure"))
                .contains(Json.object()
                        .put("line", "09:02 ERROR pump-2: no pressure")
                        .put("level", "ERROR")
                        .put("unit", "pump-2")
                        .put("what", "no pressure"));
        assertThat(pattern.read("FATAL pump-2").orElseThrow().path("what").stringValue())
                .isEmpty();
        assertThat(pattern.read("INFO all is well")).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(strings = {"(", "(?P<line>x)", "(?=x)", "[z-a]"})
    void whatIsNoPatternIsRefused(String text) {
        assertThatIllegalArgumentException().isThrownBy(() -> LinePattern.of(text));
    }
}
