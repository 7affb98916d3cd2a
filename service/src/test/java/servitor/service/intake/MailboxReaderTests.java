package servitor.service.intake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.ArgumentMatchers.argThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.net.URI;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.mockito.ArgumentCaptor;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.mail.MailFolder;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.service.editions.Editions;
import servitor.service.intake.MailWatches.Place;

/** What is noted of a mailbox in which nothing is new. */
class MailboxReaderTests {
    private static final Instant NOW = Instant.parse("2026-06-01T10:00:00Z");
    private static final Place INBOX = new Place("mailbox", "INBOX");
    private static final Access ACCESS =
            new Access(URI.create("imap://127.0.0.1:9"), new Credentials.Password("lost", "tide"), true);

    private final MailIntake intake = mock(MailIntake.class);
    private final MailStore mails = mock(MailStore.class);
    private final MailFolder folder = mock(MailFolder.class);
    private MailboxReader reader;

    @BeforeEach
    void read() throws Exception {
        Intake one = intake("lost");
        Intake other = intake("found");
        Handbook handbook = mock(Handbook.class);
        when(handbook.intake()).thenReturn(Map.of("lost", one, "found", other));
        Editions editions = mock(Editions.class);
        when(editions.current()).thenReturn(Optional.of(new Edition(1, handbook)));
        when(folder.after(anyLong(), anyInt())).thenReturn(List.of());
        reader = new MailboxReader(intake, mails, editions, Clock.fixed(NOW, ZoneOffset.UTC));
    }

    private static Intake intake(String name) {
        Intake one = mock(Intake.class);
        when(one.name()).thenReturn(name);
        when(one.mailbox()).thenReturn(new Intake.Mailbox("mailbox", "INBOX", ""));
        return one;
    }

    private void stands(long noted, String trouble, long now) throws Exception {
        when(mails.mailbox("lost"))
                .thenReturn(Optional.of(new MailboxRow("lost", "mailbox INBOX", noted, 7, NOW, trouble)));
        when(mails.mailbox("found")).thenReturn(Optional.of(new MailboxRow("found", "mailbox INBOX", now, 7, NOW, "")));
        when(folder.validity()).thenReturn(now);
        reader.read(INBOX, ACCESS, folder, () -> true);
    }

    private MailboxRow written() {
        ArgumentCaptor<MailboxRow> row = ArgumentCaptor.forClass(MailboxRow.class);
        verify(intake).stands(row.capture());
        return row.getValue();
    }

    @Test
    void troubleIsOverOnceTheMailboxCanBeRead() throws Exception {
        stands(5, "nobody answers", 5);
        assertThat(written()).isEqualTo(new MailboxRow("lost", "mailbox INBOX", 5, 7, NOW, ""));
    }

    @Test
    void troubleIsOverAlsoWhenTheServerHasBegunAnew() throws Exception {
        stands(5, "nobody answers", 6);
        assertThat(written())
                .as("what was numbered before says nothing")
                .isEqualTo(new MailboxRow("lost", "mailbox INBOX", 6, 0, NOW, ""));
    }

    @Test
    void nothingIsWrittenForEveryLook() throws Exception {
        stands(5, "", 5);
        verify(intake, never()).stands(any());
    }

    @Test
    void aMailThatBreaksOneIntakeIsReadByTheOthers() throws Exception {
        when(folder.after(6, 100)).thenReturn(List.of(8L, 9L));
        when(folder.bytes(anyLong())).thenReturn(Optional.of(new byte[0]));
        when(intake.take(argThat(one -> one != null && one.name().equals("found")), any(), any(), any(), any()))
                .thenThrow(new IllegalStateException("nobody foresaw it"));
        stands(5, "", 5);
        verify(intake, times(2)).take(argThat(one -> one.name().equals("lost")), any(), any(), any(), any());
        verify(intake, times(1)).take(argThat(one -> one.name().equals("found")), any(), any(), any(), any());
        assertThat(written())
                .as("where the other stands, it stays")
                .isEqualTo(new MailboxRow(
                        "found", "mailbox INBOX", 5, 7, NOW, "a mail can't be taken in: nobody foresaw it"));
    }
}
