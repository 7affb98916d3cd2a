package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.mail.MailFolder;
import servitor.connectors.mail.MailParser;
import servitor.core.mail.Mail;

/** Mails through the servers that companies run: Postfix takes and delivers them, Dovecot keeps them. */
@Tag("outside")
@EnabledIfSystemProperty(named = "peers.long", matches = "true")
class MailHostTests {
    private static final Pattern LINK = Pattern.compile("/form/approval#(\\S+)");
    private static final Pattern SHEET = Pattern.compile("/approvals/(\\S+)");

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

    @Test
    void whoIsAskedHearsOfItAndAnswersThroughThem() throws Exception {
        try (MailHost host = new MailHost(List.of("it", "dagny"));
                Household household = new Household()) {
            connect(
                    household,
                    "it-mailbox",
                    URI.create(host.imap() + "?results-by=mx.skerryline.example&vouches-for=skerryline.example"));
            connect(household, "it-post", URI.create(host.smtp() + "?sent=it-mailbox"));
            Mail byLink = asked(host, household);
            Matcher link = LINK.matcher(byLink.text());
            assertThat(link.find()).as(byLink.text()).isTrue();
            assertThat(new Http(household.url())
                            .with("Form-Link", link.group(1))
                            .send(
                                    "POST",
                                    "/api/public/approval/answers",
                                    "{\"decision\":\"decline\",\"reason\":\"Not now.\"}")
                            .status())
                    .isEqualTo(200);
            assertThat(state(household, byLink)).isEqualTo("declined");

            Mail byMail = asked(host, household);
            new Correspondent(host.smtp())
                    .send(
                            null,
                            "dagny",
                            "it",
                            "Re: " + byMail.subject(),
                            "No, not this month either.\n\n> " + byMail.subject(),
                            "In-Reply-To: <" + byMail.messageId() + ">\r\n");
            Household.await("the answer by mail", () -> state(household, byMail).equals("declined"));
        }
    }

    /** A wish for kit, of which its requester's manager is asked; the mail that asks her. */
    private Mail asked(MailHost host, Household household) {
        String approval = household.approvalOf(
                household.open("ewan", "kit-wish", "A radio", "A radio for the watch, please.", Map.of()));
        return Household.await(
                "the mail about " + approval,
                () -> mails(host, "dagny").stream()
                        .filter(mail -> mail.text().contains("/approvals/" + approval + "\n"))
                        .findFirst()
                        .orElse(null));
    }

    private static String state(Household household, Mail mail) {
        Matcher approval = SHEET.matcher(mail.text());
        assertThat(approval.find()).isTrue();
        return household
                .as("dagny")
                .get("/api/approvals/" + approval.group(1))
                .at("/summary/state")
                .asString();
    }

    private static List<Mail> mails(MailHost host, String name) {
        Access access = new Access(host.imap(), new Credentials.Password(name, MailHost.PASSWORD), true);
        List<Mail> all = new ArrayList<>();
        try (MailFolder folder = MailFolder.open(access, "INBOX")) {
            for (long uid : folder.after(0, 1_000)) {
                all.add(MailParser.parse(folder.bytes(uid).orElseThrow()));
            }
            return all;
        } catch (MailFolder.Trouble | MailParser.Unreadable e) {
            throw new IllegalStateException(e);
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
