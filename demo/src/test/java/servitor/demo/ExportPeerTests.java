package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.demo.peers.Peers;

/** What the service exports of its trail, verified by a program in another language. */
@Tag("outside")
class ExportPeerTests {
    @TempDir
    Path folder;

    @Test
    void theExportHolds() throws Exception {
        Household household = Household.shared();
        household.openRefund("ines", "SK-670991");
        Path file = Files.writeString(
                folder.resolve("trail.jsonl"),
                household.run("--as", "noor", "trail", "export").out());
        Peers.Said said = Peers.script("verify-trail.mjs", Map.of("TRAIL", file.toString()));
        assertThat(said.exit()).as(said.out()).isZero();
        assertThat(said.out()).contains("entries hold");
    }
}
