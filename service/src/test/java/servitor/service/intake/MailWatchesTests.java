package servitor.service.intake;

import static org.assertj.core.api.Assertions.assertThat;

import com.icegreen.greenmail.user.GreenMailUser;
import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.GreenMailUtil;
import com.icegreen.greenmail.util.ServerSetup;
import java.net.URI;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.service.intake.MailWatches.Place;

/** Nobody looks into these mailboxes: that something came is only heard. */
class MailWatchesTests {
    private static final Place INBOX = new Place("mailbox", "INBOX");

    private final BlockingQueue<Place> came = new LinkedBlockingQueue<>();
    private GreenMail server;
    private volatile String password = "tide";
    private volatile boolean asked;
    private GreenMailUser user;
    private MailWatches watches;

    @BeforeEach
    void start() {
        server = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_IMAP));
        server.start();
        user = server.setUser("help@skerryline.example", "help", "tide");
        watches = new MailWatches(name -> Optional.of(access()).filter(one -> name.equals("mailbox")), came::add);
    }

    @AfterEach
    void stop() {
        watches.keep(Set.of());
        server.stop();
    }

    private Access access() {
        asked = true;
        return new Access(
                URI.create("imap://127.0.0.1:" + server.getImap().getPort()),
                new Credentials.Password("help", password),
                true);
    }

    private void arrives() {
        user.deliver(GreenMailUtil.createTextEmail(
                "help@skerryline.example",
                "ines@skerryline.example",
                "A scarf",
                "Red.",
                server.getImap().getServerSetup()));
    }

    private Place heard() throws InterruptedException {
        return came.poll(30, TimeUnit.SECONDS);
    }

    @Test
    void whatComesIsHeardAlsoAfterTheConnectionWasLost() throws Exception {
        watches.keep(Set.of(INBOX, new Place("nowhere", "INBOX")));
        assertThat(heard()).as("what may have come before").isEqualTo(INBOX);
        arrives();
        assertThat(heard()).isEqualTo(INBOX);

        server.stop();
        server.start();
        user = server.setUser("help@skerryline.example", "help", "tide");
        assertThat(heard()).as("what may have come meanwhile").isEqualTo(INBOX);
    }

    @Test
    @Timeout(60)
    void whatIsNoLongerWantedIsNoLongerListenedTo() throws Exception {
        watches.keep(Set.of(INBOX));
        assertThat(heard()).isEqualTo(INBOX);
        watches.keep(Set.of());
        while (isListenedTo()) {
            Thread.onSpinWait();
        }
        arrives();
        assertThat(came).isEmpty();

        watches.keep(Set.of(INBOX));
        assertThat(heard()).as("wanted again").isEqualTo(INBOX);
    }

    @Test
    void aServerThatIsReachedInAnotherWayIsListenedToAtOnce() throws Exception {
        password = "ebb"; // which isn't taken: it is tried again much later
        watches.keep(Set.of(INBOX));
        while (!asked) {
            Thread.onSpinWait();
        }
        password = "tide";
        watches.keep(Set.of(INBOX));
        assertThat(heard()).isEqualTo(INBOX);
    }

    private static boolean isListenedTo() {
        return Thread.getAllStackTraces().keySet().stream()
                .anyMatch(thread -> thread.getName().equals("mail-mailbox"));
    }
}
