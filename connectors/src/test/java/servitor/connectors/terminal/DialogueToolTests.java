package servitor.connectors.terminal;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.expression.BadExpression;
import servitor.core.expression.Template;
import servitor.core.handbook.Binding.Dialogue;
import servitor.core.handbook.Binding.Line;
import servitor.core.json.Json;

/** Dialogues with a line-mode program on loopback, well-behaved and hostile. */
class DialogueToolTests {
    private final DialogueTool tool = new DialogueTool();
    private final List<String> heard = new CopyOnWriteArrayList<>();
    private ServerSocket server;

    /** What the program does with one who has connected. */
    private interface Program {
        void talk(BufferedReader in, OutputStream out) throws IOException;
    }

    @BeforeEach
    void start() throws IOException {
        server = new ServerSocket(0, 5, InetAddress.getLoopbackAddress());
    }

    @AfterEach
    void stop() throws IOException {
        server.close();
    }

    private void serve(Program program) {
        Thread thread = new Thread(() -> {
            try (Socket socket = server.accept()) {
                program.talk(
                        new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8)),
                        socket.getOutputStream());
            } catch (IOException e) {
                heard.add("broke off");
            }
        });
        thread.setDaemon(true);
        thread.start();
    }

    private static void say(OutputStream out, String text) throws IOException {
        out.write(text.getBytes(StandardCharsets.UTF_8));
        out.flush();
    }

    private void register(BufferedReader in, OutputStream out) throws IOException {
        say(out, "CREW REGISTER\r\nuser: ");
        heard.add(in.readLine());
        say(out, "password: ");
        heard.add(in.readLine());
        say(out, "ready> ");
        String line = in.readLine();
        heard.add(line);
        say(out, line.contains("ewan") ? "OK ENTRY 4711\r\nready> " : "NO SUCH PERSON\r\nready> ");
    }

    private Reply call(String account) throws BadExpression {
        return call(account, Duration.ofSeconds(5));
    }

    private Reply call(String account, Duration limit) throws BadExpression {
        Dialogue dialogue = new Dialogue(
                "crew",
                List.of(
                        new Line(null, "user: ", Map.of(), Map.of()),
                        new Line(Template.parse("${connection.user}"), "password: ", Map.of(), Map.of()),
                        new Line(Template.parse("${connection.secret}"), "ready> ", Map.of(), Map.of()),
                        new Line(
                                Template.parse("CERT ${args.account}"),
                                "OK ENTRY ([0-9]+)",
                                Map.of("number", 1),
                                Map.of("NO SUCH PERSON", "not-found"))));
        Access access = new Access(
                URI.create("tcp://127.0.0.1:" + server.getLocalPort()),
                new Credentials.Password("servitor", "anchor-9"),
                true);
        return tool.call(access, dialogue, Json.object().put("account", account), "key", Deadline.in(limit));
    }

    @Test
    void aDialogueCapturesAndLeavesATranscriptWithoutSecrets() throws Exception {
        serve(this::register);

        Reply.WithTranscript held = (Reply.WithTranscript) call("ewan");

        assertThat(held.reply()).isEqualTo(new Reply.Answered(200, Json.object().put("number", "4711")));
        assertThat(held.transcript()).isEqualTo("""
                < CREW REGISTER\r
                user:
                > servitor
                < password:
                > •••
                < ready>
                > CERT ewan
                < OK ENTRY 4711
                """);
        assertThat(heard).containsExactly("servitor", "anchor-9", "CERT ewan");
    }

    @Test
    void whatElseItMaySayIsANamedProblem() throws Exception {
        serve(this::register);

        Reply.WithTranscript held = (Reply.WithTranscript) call("nobody");

        assertThat(held.reply()).isEqualTo(new Reply.Refused("not-found", "it said: NO SUCH PERSON"));
        assertThat(held.transcript()).endsWith("> CERT nobody\n< NO SUCH PERSON\n");
    }

    @Test
    void anInputCantStartALineOfItsOwn() throws Exception {
        assertThat(call("ewan\r\nDELETE ALL"))
                .isEqualTo(new Reply.Refused("invalid", "‘account’ holds a character that isn't part of a line"));
        assertThat(heard).isEmpty();
    }

    @Test
    void aProgramThatNeverSaysTheWordEndsInTime() throws Exception {
        serve((in, out) -> {
            say(out, "user: ");
            in.readLine();
            in.readLine();
        });

        Reply.WithTranscript held = (Reply.WithTranscript) call("ewan", Duration.ofMillis(400));

        assertThat(held.reply()).isEqualTo(new Reply.Unknown("nothing that was expected was said in time", true));
        assertThat(held.transcript()).startsWith("< user:\n> servitor\n");
    }

    @Test
    void aProgramThatTalksWithoutEndIsEnded() throws Exception {
        serve((in, out) -> {
            byte[] noise = "la la la la ".repeat(5_000).getBytes(StandardCharsets.UTF_8);
            while (true) {
                out.write(noise);
            }
        });

        Reply reply = call("ewan");
        assertThat(reply instanceof Reply.WithTranscript held ? held.reply() : reply)
                .isNotInstanceOf(Reply.Answered.class);
    }

    @Test
    void aTranscriptOfALongTalkIsCutOff() throws Exception {
        serve((in, out) -> say(out, "la ".repeat(100_000) + "user: "));

        Reply.WithTranscript held = (Reply.WithTranscript) call("ewan", Duration.ofSeconds(2));

        assertThat(held.transcript()).hasSize(20_000);
    }

    @Test
    void nobodyThereMeansNothingWasSent() throws Exception {
        server.close();

        assertThat(call("ewan")).isInstanceOf(Reply.NotSent.class);
    }
}
