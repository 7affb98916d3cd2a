package servitor.cli.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CompletionTests {
    private final StringWriter out = new StringWriter();
    private final StringWriter err = new StringWriter();

    private int run(String... args) {
        return Servitor.run(
                Map.of("HOME", "/nonexistent"), new PrintWriter(out, true), new PrintWriter(err, true), args);
    }

    @Test
    void bashCompletesThingsActionsAndOptions(@TempDir Path folder) throws Exception {
        assertThat(run("completion", "bash")).isZero();
        Path script = Files.writeString(folder.resolve("completion"), out.toString());
        String ask = "source " + script + "; COMP_WORDS=(servitor connection s); COMP_CWORD=2; "
                + "$(complete -p servitor | sed 's/.*-F \\([^ ]*\\).*/\\1/'); printf '%s\\n' \"${COMPREPLY[@]}\"";
        Process bash =
                new ProcessBuilder("bash", "-c", ask).redirectErrorStream(true).start();
        String said = new String(bash.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(bash.waitFor()).as(said).isZero();
        assertThat(said.lines()).contains("set");
    }

    @Test
    void fishIsToldEveryActionWithWhatItIsFor() {
        assertThat(run("completion", "fish")).isZero();
        assertThat(out.toString())
                .contains("-a 'connection' -d 'Say where outside systems are and how to sign in there.'")
                .contains("-n '__fish_seen_subcommand_from connection; and not __fish_seen_subcommand_from")
                .contains("-l ca-file -r -d ")
                .doesNotContain("null");
    }

    @Test
    @Tag("outside")
    void fishCompletesThingsActionsAndOptions(@TempDir Path folder) throws Exception {
        assertThat(run("completion", "fish")).isZero();
        Path script = Files.writeString(folder.resolve("completion.fish"), out.toString());
        ProcessBuilder fish = new ProcessBuilder(
                        "fish",
                        "--no-config",
                        "-c",
                        "source " + script + "; complete -C 'servitor conn'; complete -C 'servitor connection s'; "
                                + "complete -C 'servitor connection set --ca'")
                .redirectErrorStream(true);
        fish.environment().put("HOME", folder.toString());
        Process asked = fish.start();
        String said = new String(asked.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(asked.waitFor()).as(said).isZero();
        assertThat(said.lines().map(line -> line.split("\t")[0]))
                .contains("connection", "set", "sign-in", "--ca-file")
                .doesNotContain("case");
    }

    @Test
    void whoeverAsksForJsonGetsErrorsAsJson() {
        assertThat(run("case", "show", "--json", "--url", "http://127.0.0.1:1", "C-1"))
                .isEqualTo(3);
        assertThat(err.toString()).startsWith("{\"error\":\"").contains("\"exit\":3}");
        err.getBuffer().setLength(0);
        assertThat(run("case", "shwo", "--json")).isEqualTo(2);
        assertThat(err.toString()).startsWith("{\"error\":\"").contains("\"exit\":2}");
    }
}
