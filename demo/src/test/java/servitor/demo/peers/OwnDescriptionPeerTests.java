package servitor.demo.peers;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** The description of the API, as two linters see it that nobody here wrote; not even a warning is let pass. */
@Tag("outside")
class OwnDescriptionPeerTests {
    private static final String DESCRIPTION = "../../../../service/src/main/resources/openapi.yaml";

    @Test
    void oneLinterFindsNothing() throws Exception {
        Peers.Said said = Peers.program(
                "@redocly/cli/bin/cli.js", "lint", "--config", "redocly.yaml", "--max-problems", "20", DESCRIPTION);
        assertThat(said.out()).contains("validated in");
        assertThat(said.exit()).as(said.out()).isZero();
    }

    @Test
    void theOtherFindsNothing() throws Exception {
        Peers.Said said = Peers.program(
                "@stoplight/spectral-cli/dist/index.js",
                "lint",
                "--ruleset",
                "description-rules.yaml",
                "--fail-severity",
                "hint",
                DESCRIPTION);
        assertThat(said.exit()).as(said.out()).isZero();
    }
}
