package servitor.connectors.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.expression.Template;
import servitor.core.handbook.Binding.Program;
import servitor.core.json.Json;

/** Real programs of this machine. */
class ProgramToolTests {
    private final ProgramTool tool = new ProgramTool();

    @TempDir
    private Path folder;

    private Reply run(String script, String input, Duration limit) throws Exception {
        Path program = folder.resolve("program");
        Files.writeString(program, "#!/bin/sh\n" + script);
        Files.setPosixFilePermissions(program, PosixFilePermissions.fromString("rwx------"));
        return tool.call(
                new Access(URI.create("exec:" + program), new Credentials.None(), true),
                new Program("local", List.of(Template.parse("count"), Template.parse("${args.words}"))),
                Json.object().put("words", input),
                "K-1",
                Deadline.in(limit));
    }

    private Reply run(String script, String input) throws Exception {
        return run(script, input, Duration.ofSeconds(5));
    }

    @Test
    void anInputStaysOneArgumentWhateverIsInIt() throws Exception {
        assertThat(run("printf '{\"n\": %d, \"key\": \"%s\"}' $# \"$IDEMPOTENCY_KEY\"", "a b; rm -rf / $(id)"))
                .isEqualTo(new Reply.Answered(200, Json.object().put("n", 2).put("key", "K-1")));
    }

    @Test
    void anInputThatLooksLikeAnOptionIsRefused() throws Exception {
        assertThat(run("echo '{}'", "--delete-everything"))
                .isEqualTo(new Reply.Refused("invalid", "an input looks like an option of the program"));
    }

    @Test
    void whatIsNotJsonIsText() throws Exception {
        assertThat(run("echo hello", "x"))
                .isEqualTo(new Reply.Answered(200, Json.object().put("text", "hello")));
    }

    @Test
    void aProgramThatFailsOrHangsOrTalksWithoutEndIsEnded() throws Exception {
        assertThat(run("exit 3", "x")).isEqualTo(new Reply.Refused("invalid", "the program ended with 3"));
        assertThat(run("sleep 60", "x", Duration.ofMillis(300)))
                .isEqualTo(new Reply.Unknown("the program didn't end in time", true));
        assertThat(run("cat /dev/zero", "x")).isInstanceOf(Reply.Unreadable.class);
    }

    @Test
    void aProgramThatIsNotThereWasNotStarted() throws IOException, InterruptedException {
        Access access = new Access(URI.create("exec:/nowhere/at-all"), new Credentials.None(), true);

        assertThat(tool.call(
                        access,
                        new Program("local", List.of()),
                        Json.object(),
                        "k",
                        Deadline.in(Duration.ofSeconds(1))))
                .isEqualTo(new Reply.NotSent("the program can't be started"));
        assertThat(tool.test(access, Deadline.in(Duration.ofSeconds(1)))).isInstanceOf(Reply.NotSent.class);
    }
}
