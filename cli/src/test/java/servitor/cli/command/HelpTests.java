package servitor.cli.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import picocli.CommandLine;

class HelpTests {
    static Stream<List<String>> everyCommand() {
        return below(List.of(), new CommandLine(new Servitor(Map.of())));
    }

    private static Stream<List<String>> below(List<String> path, CommandLine command) {
        return Stream.concat(
                Stream.of(path), command.getSubcommands().entrySet().stream().flatMap(sub -> {
                    List<String> deeper = new ArrayList<>(path);
                    deeper.add(sub.getKey());
                    return below(deeper, sub.getValue());
                }));
    }

    @ParameterizedTest
    @MethodSource("everyCommand")
    void everyCommandSaysWhatItIsFor(List<String> path) {
        List<String> words = new ArrayList<>(path);
        words.add("--help");
        StringWriter out = new StringWriter();
        StringWriter err = new StringWriter();
        int code = Servitor.run(
                Map.of("SERVITOR_CONFIG", "/nowhere"),
                new PrintWriter(out),
                new PrintWriter(err),
                words.toArray(String[]::new));
        assertThat(code).as(err.toString()).isZero();
        assertThat(out.toString()).contains("Usage: servitor " + String.join(" ", path));
        assertThat(err.toString()).isEmpty();
    }
}
