package servitor.service.api;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.slf4j.MDC;

class RequestFilterTests {
    private static final String TRACE = "4bf92f3577b34da6a3ce929d0e0e4736";

    private final HttpServletResponse response = mock(HttpServletResponse.class);

    /** What the log knows of a request while it is seen to. */
    private Map<String, String> logged(@Nullable String id, @Nullable String traceParent) throws Exception {
        HttpServletRequest request = mock(HttpServletRequest.class);
        when(request.getMethod()).thenReturn("GET");
        when(request.getHeader("X-Request-Id")).thenReturn(id);
        when(request.getHeader("traceparent")).thenReturn(traceParent);
        AtomicReference<Map<String, String>> seen = new AtomicReference<>(Map.of());
        new RequestFilter().doFilterInternal(request, response, (req, res) -> seen.set(MDC.getCopyOfContextMap()));
        return seen.get();
    }

    @Test
    void aRequestIsLoggedByTheIdAndTheTraceItCameWith() throws Exception {
        assertThat(logged("kiosk.7", "00-" + TRACE + "-00f067aa0ba902b7-01"))
                .containsEntry("request", "kiosk.7")
                .containsEntry("trace", TRACE);
        verify(response).setHeader(eq("X-Request-Id"), eq("kiosk.7"));
        assertThat(MDC.getCopyOfContextMap()).as("what is left behind").doesNotContainKeys("request", "trace");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "nonsense",
                "ff-4bf92f3577b34da6a3ce929d0e0e4736-00f067aa0ba902b7-01",
                "00-00000000000000000000000000000000-00f067aa0ba902b7-01",
                "00-4bf92f3577b34da6a3ce929d0e0e4736-0000000000000000-01",
                "00-4BF92F3577B34DA6A3CE929D0E0E4736-00f067aa0ba902b7-01",
            })
    void whatIsNoTraceIsPassedOver(String given) throws Exception {
        assertThat(logged(null, given)).containsEntry("trace", "");
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "two words", "[x]", "a\nb", "zwölf"})
    void whatCouldBeTakenForSomethingElseInTheLogIsNoId(String given) throws Exception {
        assertThat(logged(given, null).get("request")).matches("[0-9a-f]{8}");
    }
}
