package servitor.core.handbook.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;
import servitor.core.rehearsal.Rehearsals;

/**
 * Every kind of finding has an example that gives it, and {@code docs/findings.md} is made of these. To write that file
 * anew after a change: {@code mvn test -pl core -Dtest=FindingsReferenceTests -Dwrite-docs}.
 */
class FindingsReferenceTests {
    private static final Path DOCS = Path.of("../docs/findings.md");

    /** One change of one file: {@code from} is empty for a whole new file. */
    private record Change(String file, String from, String to) {}

    private record Example(String code, List<Change> changes) {
        Map<String, String> files() {
            Map<String, String> files = DemoHandbook.files();
            for (Change change : changes) {
                String text = files.getOrDefault(change.file(), "");
                assertThat(text).as(code + " in " + change.file()).contains(change.from());
                files.put(
                        change.file(),
                        change.from().isEmpty()
                                ? change.to()
                                : text.replaceFirst(
                                        java.util.regex.Pattern.quote(change.from()),
                                        java.util.regex.Matcher.quoteReplacement(change.to())));
            }
            return files;
        }

        Finding finding() {
            CheckedHandbook checked = CheckedHandbook.of(files());
            return Stream.concat(
                            checked.findings().stream(),
                            code.equals(Code.NOT_AS_REHEARSED.word())
                                    ? Rehearsals.findings(Rehearsals.play(checked.handbook())).stream()
                                    : Stream.empty())
                    .filter(finding -> finding.code().word().equals(code))
                    .findFirst()
                    .orElseThrow(() -> new AssertionError("no " + code + " in " + checked.findings()));
        }

        @Override
        public String toString() {
            return code;
        }
    }

    static Stream<Example> examples() throws IOException {
        List<Example> examples = new ArrayList<>();
        String file = "";
        String from = "";
        try (InputStream in = FindingsReferenceTests.class.getResourceAsStream("findings.txt")) {
            for (String line : new String(in.readAllBytes(), StandardCharsets.UTF_8)
                    .lines()
                    .toList()) {
                if (line.startsWith("== ")) {
                    String[] words = line.substring(3).split(" ", 2);
                    examples.add(new Example(words[0], new ArrayList<>()));
                    file = words[1];
                } else if (line.startsWith("& ")) {
                    file = line.substring(2);
                } else if (line.startsWith("- ")) {
                    from = text(line);
                } else if (line.startsWith("+")) {
                    examples.get(examples.size() - 1).changes().add(new Change(file, from, text(line)));
                    from = "";
                }
            }
        }
        return examples.stream();
    }

    private static String text(String line) {
        return line.length() < 2
                ? ""
                : line.substring(2)
                        .replace("\\n", "\n")
                        .replace("\\u0000", "\u0000")
                        .replace("%LONG%", "x".repeat(1_000_001));
    }

    @ParameterizedTest
    @MethodSource("examples")
    void theExampleGivesTheFinding(Example example) {
        Finding finding = example.finding();
        assertThat(finding.what()).isNotBlank();
        assertThat(finding.remedy()).isNotBlank();
        assertThat(finding.place().line()).isPositive();
    }

    @Test
    void everyKindOfFindingHasAnExample() throws IOException {
        assertThat(examples().map(Example::code))
                .containsExactlyInAnyOrder(
                        Stream.of(Code.values()).map(Code::word).toArray(String[]::new));
    }

    @Test
    void theReferenceIsMadeOfTheExamples() throws IOException {
        String made = reference();
        if (System.getProperty("write-docs") != null) {
            Files.writeString(DOCS, made);
        }
        assertThat(DOCS)
                .as("written anew as the comment of this class says")
                .content()
                .isEqualTo(made);
    }

    private static String reference() throws IOException {
        Map<String, Example> byCode = new LinkedHashMap<>();
        examples().forEach(example -> byCode.put(example.code(), example));
        StringBuilder out = new StringBuilder("""
                # Findings

                What checking a handbook can report. An **error** keeps it from being published; a **warning** and a **hint** don't. Each
                example is one change to the demo's handbook, with what checking says of it. This page is made from the examples that the
                tests run.
                """);
        for (Code code : Code.values()) {
            Example example = byCode.get(code.word());
            Finding finding = example.finding();
            out.append("\n## ")
                    .append(code.word())
                    .append("\n")
                    .append(code.means())
                    .append("\n\n```\n");
            for (Change change : example.changes()) {
                out.append(change.file()).append('\n');
                lines(out, "- ", change.from());
                lines(out, "+ ", change.to());
            }
            out.append("```\n> ")
                    .append(finding.severity().word())
                    .append(", ")
                    .append(finding.place())
                    .append(": ")
                    .append(finding.what().replace("\n", " "))
                    .append(' ')
                    .append(finding.remedy())
                    .append('\n');
        }
        return out.toString();
    }

    private static void lines(StringBuilder out, String sign, String text) {
        if (!text.isEmpty()) {
            text.lines()
                    .forEach(line -> out.append(sign)
                            .append(line.length() > 110 ? line.substring(0, 110) + "…" : line.replace("\u0000", "␀"))
                            .append('\n'));
        }
    }
}
