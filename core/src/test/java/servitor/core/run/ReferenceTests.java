package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.VerbForm;
import servitor.core.handbook.Words;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;

/** The verb examples of {@code docs/runbooks.md}, put together as one page, are checked and run. */
class ReferenceTests {
    private static Map<String, String> files() throws IOException {
        String reference = Files.readString(Path.of("../docs/runbooks.md"));
        String verbs =
                reference.substring(reference.indexOf("\n## Verbs") + 1, reference.indexOf("\n## The review rule"));
        String page = verbs.substring(verbs.indexOf("### ")).replaceAll("(?m)^### ", "## ");
        Map<String, String> files = DemoHandbook.files();
        files.put(
                "runbooks/reference.md",
                "---\ntitle: Reference\ndesk: passengers\nagent: purser\nlimits: { calls: 40, model-tokens: 60000, time: P90D }\n---\n"
                        + page);
        return files;
    }

    private static Edition edition() throws IOException {
        Map<String, String> files = files();
        assertThat(CheckedHandbook.of(files).findings())
                .filteredOn(finding -> finding.severity() == Finding.Severity.ERROR)
                .isEmpty();
        return new Edition(1, CheckedHandbook.of(files).handbook());
    }

    @Test
    void everyVerbAndEveryKeyIsShown() throws IOException {
        String reference = Files.readString(Path.of("../docs/runbooks.md"));
        String steps = String.join("\n", blocks(reference));
        assertThat(Words.all(VerbForm.class))
                .allSatisfy(verb -> assertThat(steps).containsPattern("(?m)^" + verb + ":"));
        for (String key : servitor.core.handbook.read.PageWords.keys()) {
            assertThat(reference).as("the key ‘" + key + "’").containsPattern("`" + key + "[:`]|(?m)^" + key + ":");
        }
    }

    private static List<String> blocks(String text) {
        Matcher matcher = Pattern.compile("```step\n(.*?)```", Pattern.DOTALL).matcher(text);
        return matcher.results().map(found -> found.group(1)).toList();
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20})
    void itRunsToAnEndWhateverIsAnswered(long seed) throws IOException {
        Play play = new Play(edition(), "reference");
        Chance chance = new Chance(play, new Random(seed));
        chance.play(400);
        assertThat(play.state.status().ended())
                .as("seed " + seed + " at " + play.state.step())
                .isTrue();
    }

    @Test
    void withGoodAnswersItGetsToItsLastStep() throws IOException {
        Play play = new Play(edition(), "reference");
        Chance chance = new Chance(play, null);
        chance.play(400);
        assertThat(play.state.caseState()).as(play.state.toString()).isEqualTo("resolved");
        assertThat(play.state.step()).isEqualTo("finish");
    }
}
