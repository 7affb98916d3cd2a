package servitor.demo;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.mail.MailFolder;

/** Mails through the servers that companies run: Postfix takes and delivers them, Dovecot keeps them. */
@Tag("outside")
@EnabledIfSystemProperty(named = "peers.long", matches = "true")
class MailHostTests {
    private final List<String> texts = new ArrayList<>();
    private long read;

    @Test
    void eachMailBecomesOneCaseAndIsAnsweredOnceWhateverHappensToTheService() throws Exception {
        try (MailHost host = new MailHost(List.of("it", "edda"));
                Household household = new Household()) {
            connect(
                    household,
                    "it-mailbox",
                    URI.create(host.imap() + "?results-by=mx.skerryline.example&vouches-for=skerryline.example"));
            connect(
                    household,
                    "it-post",
                    URI.create(host.smtp() + "?sent=it-mailbox&sent-folder=Sent&files-copies=yes"));
            Correspondent edda = new Correspondent(host.smtp());
            Gloves.play(
                    household,
                    10,
                    30,
                    subject -> edda.send(null, "edda", "it", subject, "Left or right.", ""),
                    () -> inbox(host));
        }
    }

    private static void connect(Household household, String name, URI url) {
        household
                .as("admin")
                .put(
                        "/api/connections/" + name,
                        Map.of(
                                "url",
                                url.toString(),
                                "inside",
                                true,
                                "signIn",
                                name.endsWith("post")
                                        ? Map.of("kind", "none")
                                        : Map.of("kind", "password", "user", "it", "secret", MailHost.PASSWORD)));
    }

    /** All that edda has got so far; what was read before isn't read again. */
    private List<String> inbox(MailHost host) {
        Access access = new Access(host.imap(), new Credentials.Password("edda", MailHost.PASSWORD), true);
        try (MailFolder folder = MailFolder.open(access, "INBOX")) {
            for (long uid : folder.after(read, 10_000)) {
                texts.add(new String(folder.bytes(uid).orElseThrow(), StandardCharsets.UTF_8));
                read = uid;
            }
            return List.copyOf(texts);
        } catch (MailFolder.Trouble e) {
            throw new IllegalStateException(e);
        }
    }
}
