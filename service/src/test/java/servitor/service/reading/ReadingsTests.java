package servitor.service.reading;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.documents.Reading;
import servitor.service.ledger.Writer;

/** Which files are opened, and what is remembered of them. */
class ReadingsTests {
    private static final byte[] FILE = {1, 2, 3};
    private static final ReadDocument READ =
            new ReadDocument(ReadOutcome.TEXT, "text/plain", "", List.of(new ReadDocument.Page(1, "Hay")), List.of());

    private final Reading reading = mock(Reading.class);
    private final ReadingStore store = mock(ReadingStore.class);
    private final Writer writer = mock(Writer.class);
    private final Readings readings = new Readings(reading, store, writer);

    @BeforeEach
    void aFileThatCanBeRead() throws InterruptedException {
        when(reading.read(any(), any())).thenReturn(READ);
        when(store.find(any())).thenReturn(Optional.empty());
    }

    @Test
    void withoutASandboxOnlyFilesOfProvenPeopleAreOpened() throws InterruptedException {
        ReadDocument claimed = readings.read(FILE, "a.txt", false);
        assertThat(claimed.outcome()).isEqualTo(ReadOutcome.NOT_READ);
        assertThat(claimed.detail()).contains("only claimed whom it is from");
        verify(reading, never()).read(any(), any());
        assertThat(readings.read(FILE, "a.txt", true)).isEqualTo(READ);
    }

    @Test
    void inASandboxFilesOfAnybodyAreOpened() {
        when(reading.isContained()).thenReturn(true);
        assertThat(readings.read(FILE, "a.txt", false)).isEqualTo(READ);
    }

    @Test
    void whatCameOfALimitIsntRemembered() throws InterruptedException {
        readings.read(FILE, "a.txt", true);
        when(reading.read(any(), any())).thenReturn(ReadDocument.nothing(ReadOutcome.TOOK_TOO_LONG, "text/plain", ""));
        readings.read(FILE, "a.txt", true);
        verify(writer, times(1)).write(any());
    }
}
