package servitor.service.dispatch;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import servitor.connectors.Connectors.Speaks;
import servitor.core.handbook.Edition;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.read.HandbookReader;
import servitor.core.json.Json;
import servitor.service.connections.Connections;
import servitor.service.connections.Connections.Shown;
import servitor.service.connections.Connections.Tested;
import servitor.service.editions.Editions;

class ConnectionTestTests {
    private static final String CRANES = """
            connection: cranes
            openapi: cranes.openapi.yaml
            CHECK
            tools:
              state:
                operation: state
                effect: read
                description: Says which crane is free.
                problems: { 404: no-such-crane, 401: locked-gate }
            """;
    private static final String DESCRIPTION = """
            openapi: 3.1.0
            info: { title: Cranes, version: "1" }
            paths: { /state: { get: { operationId: state, responses: { "200": { description: it } } } } }
            """;

    private final Connections connections = mock(Connections.class);
    private final Editions editions = mock(Editions.class);
    private final ToolTry tries = mock(ToolTry.class);
    private final ConnectionTest test = new ConnectionTest(connections, editions, tries);

    @BeforeEach
    void reached() throws Exception {
        when(connections.test(any(), any())).thenReturn(Optional.of(new Tested(true, "reached cranes.example")));
        when(connections.all())
                .thenReturn(List.of(new Shown(
                        "cranes", "https://cranes.example", 8, "bearer token", false, "", false, "", null, "")));
    }

    private void handbook(String check) {
        Findings findings = new Findings();
        var book = HandbookReader.read(
                Map.of(
                        "handbook.yaml",
                        "title: Yard\nmodels: { writer: { connection: models, name: m } }\n",
                        "tools/cranes.yaml",
                        CRANES.replace("CHECK", check),
                        "tools/cranes.openapi.yaml",
                        DESCRIPTION),
                findings);
        when(editions.current()).thenReturn(Optional.of(new Edition(1, book)));
    }

    private void answering(String problem, String detail) throws Exception {
        when(tries.call(any(), any(), any())).thenReturn(new ToolTry.Tried(problem, detail, Json.object(), ""));
    }

    @Test
    void aWrongKeyNeverAnswers() throws Exception {
        handbook("check: state");
        answering("invalid", "cranes.example answered 401: who are you?");
        assertThat(test.of("cranes", "maren"))
                .contains(new Tested(false, "‘cranes.state’: cranes.example answered 401: who are you?"));
    }

    @Test
    void anAnswerOrOneOfTheToolsOwnProblemsMeansThatTheKeyIsTaken() throws Exception {
        handbook("check: state");
        answering("", "");
        assertThat(test.of("cranes", "maren")).contains(new Tested(true, "‘cranes.state’ was called"));
        answering("no-such-crane", "");
        assertThat(test.of("cranes", "maren")).contains(new Tested(true, "‘cranes.state’ was called"));
    }

    @Test
    void aRefusedKeyIsRefusedWhateverTheToolCallsIt() throws Exception {
        handbook("check: state");
        answering("locked-gate", "cranes.example answered 401");
        assertThat(test.of("cranes", "maren"))
                .contains(new Tested(false, "‘cranes.state’: cranes.example answered 401"));
    }

    @Test
    void aKeyThatWasntTriedIsSaid() throws Exception {
        handbook("");
        assertThat(test.of("cranes", "maren"))
                .hasValueSatisfying(tested -> assertThat(tested.detail()).contains("wasn't tried"));
        verify(tries, never()).call(any(), any(), any());
    }

    @Test
    void modelsAreAskedAsModels() throws Exception {
        handbook("");
        test.of("models", "maren");
        verify(connections).test(eq("models"), eq(Speaks.MODELS));
    }

    @Test
    void whatCantBeReachedIsntCalled() throws Exception {
        handbook("check: state");
        when(connections.test(any(), any())).thenReturn(Optional.of(new Tested(false, "can't be reached")));
        assertThat(test.of("cranes", "maren")).contains(new Tested(false, "can't be reached"));
        verify(tries, never()).call(any(), any(), any());
    }
}
