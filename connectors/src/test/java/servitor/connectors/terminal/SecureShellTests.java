package servitor.connectors.terminal;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.connectors.Connectors;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.expression.BadExpression;
import servitor.core.expression.Template;
import servitor.core.handbook.Binding.Dialogue;
import servitor.core.handbook.Binding.Line;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** Dialogues over SSH with OpenSSH's server on loopback. */
@Tag("outside")
class SecureShellTests {
    private static final Duration LIMIT = Duration.ofSeconds(20);

    @TempDir
    private static Path folder;

    private static Sshd server;
    private final DialogueTool tool = new DialogueTool();

    @BeforeAll
    static void start() throws Exception {
        server = new Sshd(folder);
    }

    @AfterAll
    static void stop() throws Exception {
        server.close();
    }

    private static Dialogue dialogue() throws BadExpression {
        return new Dialogue(
                "crew",
                List.of(
                        new Line(null, "READY> ", Map.of(), Map.of()),
                        new Line(
                                Template.parse("SHOW ${args.account}"),
                                "CERTIFICATE (\\S+)",
                                Map.of("until", 1),
                                Map.of("NO SUCH PERSON", "not-found")),
                        new Line(Template.parse("BYE"), null, Map.of(), Map.of())));
    }

    private static ObjectNode of(String account) {
        return Json.object().put("account", account);
    }

    private Reply call(Credentials credentials, String hostKey, String account) throws BadExpression {
        return tool.call(
                new Access(server.url(hostKey), credentials, true), dialogue(), of(account), "key", Deadline.in(LIMIT));
    }

    @Test
    void aKeyOpensTheShellAndTheDialogueIsHeld() throws Exception {
        Credentials key = new Credentials.Key(server.user(), server.privateKey());

        Reply.WithTranscript held = (Reply.WithTranscript) call(key, server.hostKey(), "E-217");

        assertThat(held.reply()).isEqualTo(new Reply.Answered(200, Json.object().put("until", "2028-05-31")));
        assertThat(held.transcript()).contains("> SHOW E-217").doesNotContain("PRIVATE KEY");
        assertThat(((Reply.WithTranscript) call(key, server.hostKey(), "E-999")).reply())
                .isEqualTo(new Reply.Refused("not-found", "it said: NO SUCH PERSON"));
        assertThat(new Connectors().test(new Access(server.url(server.hostKey()), key, true), Connectors.Speaks.OTHER))
                .isInstanceOf(Reply.Answered.class);
    }

    @Test
    void anotherHostThanTheOneMeantIsNotTalkedTo() throws Exception {
        Credentials key = new Credentials.Key(server.user(), server.privateKey());
        String other = "SHA256:" + "A".repeat(43);
        long letIn = server.timesLetIn();

        assertThat(call(key, other, "E-217"))
                .isEqualTo(new Reply.Refused(
                        "refused",
                        "the host shows the key " + server.hostKey() + ", not the one that the connection names"));
        assertThat(server.timesLetIn()).isEqualTo(letIn);
    }

    @Test
    void whoIsNotLetInIsToldSoAndNothingOfThisMachinesOwnKeysIsTried() throws Exception {
        assertThat(call(new Credentials.Password(server.user(), "wrong"), server.hostKey(), "E-217"))
                .isEqualTo(new Reply.Refused("refused", "the host doesn't let us in"));
        assertThat(call(new Credentials.None(), server.hostKey(), "E-217"))
                .isEqualTo(new Reply.Refused("refused", "the host doesn't let us in"));
        assertThat(call(new Credentials.Key(server.user(), "no key at all"), server.hostKey(), "E-217"))
                .isEqualTo(new Reply.Refused("refused", "the connection's private key can't be read"));
    }

    @Test
    void aHostThatIsntThereWasSentNothing() throws Exception {
        Access nowhere = new Access(
                java.net.URI.create("ssh://127.0.0.1:" + Sshd.freePort() + "?host-key=" + server.hostKey()),
                new Credentials.None(),
                true);
        assertThat(tool.call(nowhere, dialogue(), of("E-217"), "key", Deadline.in(LIMIT)))
                .isInstanceOf(Reply.NotSent.class);
    }
}
