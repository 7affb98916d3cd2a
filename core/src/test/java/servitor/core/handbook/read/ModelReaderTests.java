package servitor.core.handbook.read;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.check.CheckedHandbook;

/** Models that stand in for one another, and steps that choose theirs. */
class ModelReaderTests {
    private static List<String> said(String more) {
        Map<String, String> files = DemoHandbook.files();
        files.computeIfPresent(
                "handbook.yaml",
                (name, yaml) -> yaml.replace("can: [tools, schema, images] }", "can: [tools, schema] }") + more);
        return CheckedHandbook.of(files).findings().stream()
                .filter(found -> found.place().file().equals("handbook.yaml"))
                .map(found -> found.severity() + ": " + found.what())
                .toList();
    }

    @Test
    void whoStandsInIsThereAndCanDoAsMuch() {
        assertThat(said("  spare: { connection: models, name: s, window: 16000, otherwise: writer }\n"))
                .as("each may stand in for the other")
                .isEmpty();
        assertThat(said("  spare: { connection: models, name: s, otherwise: nobody }\n"))
                .containsExactly("ERROR: There is no model ‘nobody’.");
        assertThat(
                        said(
                                "  spare: { connection: models, name: s, window: 64000, can: [tools, schema, images], otherwise: writer }\n"))
                .containsExactly("WARNING: ‘writer’ stands in for ‘spare’ and can do less, or has a smaller window.");
    }

    @Test
    void aStepsModelIsOneOfTheHouses() {
        Map<String, String> files = DemoHandbook.with(
                "runbooks/complaint-answer.md", "unsure-below: 0.5\n", "unsure-below: 0.5\nmodel: nobody\n");
        assertThat(CheckedHandbook.of(files).findings().toString()).contains("There is no model ‘nobody’.");
    }
}
