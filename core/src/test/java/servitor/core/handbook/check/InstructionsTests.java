package servitor.core.handbook.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.finding.Finding;

/** The steps of a model that the console lets pages begin with have no fault. */
class InstructionsTests {
    static Stream<String> steps() throws IOException {
        String source = Files.readString(Path.of("../console/src/handbook/instructions.ts"));
        return Pattern.compile("': `(## (?:\\\\.|[^`])*)`")
                .matcher(source)
                .results()
                .map((MatchResult one) -> one.group(1).replace("\\`", "`").replace("\\$", "$"));
    }

    @ParameterizedTest
    @MethodSource("steps")
    void aPageThatBeginsWithOneHasNoFault(String step) {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.put(
                "runbooks/begun.md",
                "---\ntitle: Begun\ndesk: passengers\nagent: purser\n---\n" + step
                        + "\n## Done\n```step\nfinish: resolved\n```\n");
        assertThat(CheckedHandbook.of(files).findings())
                .filteredOn(found -> found.place().file().equals("runbooks/begun.md"))
                .noneMatch(found -> found.severity() == Finding.Severity.ERROR);
    }
}
