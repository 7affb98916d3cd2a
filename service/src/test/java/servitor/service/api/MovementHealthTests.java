package servitor.service.api;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Duration;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.boot.health.contributor.Status;
import servitor.service.dispatch.Dispatcher;
import servitor.service.ledger.Writer;

class MovementHealthTests {
    private final Writer writer = mock(Writer.class);
    private final Dispatcher dispatcher = mock(Dispatcher.class);
    private final MovementHealth health = new MovementHealth(writer, dispatcher);

    @BeforeEach
    void allMoves() {
        when(writer.isAlive()).thenReturn(true);
        when(writer.busyFor()).thenReturn(Optional.of(Duration.ofMillis(20)));
        when(dispatcher.isAlive()).thenReturn(true);
        when(dispatcher.sinceLastPass()).thenReturn(Duration.ofSeconds(1));
    }

    @Test
    void whatMovesIsUp() {
        assertThat(health.health().getStatus()).isEqualTo(Status.UP);
    }

    @Test
    void aWriterThatHasEndedOrIsStuckIsDown() {
        when(writer.busyFor()).thenReturn(Optional.of(Duration.ofMinutes(5)));
        assertThat(health.health().getStatus()).isEqualTo(Status.DOWN);
        when(writer.busyFor()).thenReturn(Optional.empty());
        when(writer.isAlive()).thenReturn(false);
        assertThat(health.health().getStatus()).isEqualTo(Status.DOWN);
    }

    @Test
    void aDispatcherThatHasEndedOrIsStuckIsDown() {
        when(dispatcher.sinceLastPass()).thenReturn(Duration.ofMinutes(5));
        assertThat(health.health().getStatus()).isEqualTo(Status.DOWN);
        when(dispatcher.sinceLastPass()).thenReturn(Duration.ZERO);
        when(dispatcher.isAlive()).thenReturn(false);
        assertThat(health.health().getStatus()).isEqualTo(Status.DOWN);
    }
}
