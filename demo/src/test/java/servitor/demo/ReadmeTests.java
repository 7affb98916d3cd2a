package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.demo.Household.Said;

/** Every line of the README does what it says, typed as it stands with the names filled in. */
class ReadmeTests {
    private static final Pattern WORD = Pattern.compile("\"([^\"]*)\"|(\\S+)");
    private static Household household;

    @BeforeAll
    static void start() {
        household = new Household();
    }

    @AfterAll
    static void stop() {
        household.close();
    }

    private static List<String> lines() throws IOException {
        return Files.readAllLines(Path.of("../README.md")).stream()
                .filter(line -> line.startsWith("./servitor ") && !line.startsWith("./servitor demo"))
                .map(line -> line.substring("./servitor ".length()).replaceFirst("\\s+#.*", ""))
                .toList();
    }

    private static List<String> words(String line, Map<String, String> names) {
        List<String> words = new ArrayList<>();
        Matcher word = WORD.matcher(line);
        while (word.find()) {
            String one = word.group(1) == null ? word.group(2) : word.group(1);
            words.add(names.getOrDefault(one, one));
        }
        return words;
    }

    @Test
    void everyLineRuns(@TempDir Path folder) throws Exception {
        String decided = household.openRefund("ines", "SK-670001");
        String paused = household.openRefund("ines", "SK-670002");
        String handedOver = household.openRefund("ines", "SK-99999");
        String running = household.approvalOf(paused);
        Household.await("people to have it", () -> household.state(handedOver).equals("with-people"));
        Map<String, String> names = Map.of(
                "APPROVAL",
                household.approvalOf(decided),
                "ENTRY",
                household.entryWithMaterial(decided, "model-asked").path("seq").asString(),
                "RUN",
                running.substring(0, running.lastIndexOf('-')),
                "CASE",
                handedOver,
                "FILE",
                folder.resolve("backup.zip").toString(),
                "DIR",
                folder.resolve("pages").toString(),
                "demo/handbook",
                "handbook");
        assertThat(lines()).hasSizeGreaterThan(15);
        for (String line : lines()) {
            Said said = household.run(words(line, names).toArray(String[]::new));
            assertThat(said.code()).as("%s%n%s%s", line, said.out(), said.err()).isZero();
        }
    }

    @Test
    void theLaunchersDatabaseServesAService(@TempDir Path folder) throws Exception {
        int port = Household.freePort();
        Process database = new ProcessBuilder(
                        "../servitor", "database", folder.resolve("database").toString(), String.valueOf(port))
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("log").toFile())
                .start();
        try {
            Household.await("the database to listen", () -> {
                try (Socket socket = new Socket("127.0.0.1", port)) {
                    return socket.isConnected();
                } catch (IOException notYet) {
                    return false;
                }
            });
            String url = "jdbc:h2:tcp://127.0.0.1:" + port + "/ledger;LOCK_TIMEOUT=20000";
            try (ServiceProcess service = ServiceProcess.start(
                    Trained.java(),
                    Household.freePort(),
                    folder.resolve("one"),
                    List.of("-Dservitor.database=" + url))) {
                service.awaitReady(Household.PATIENCE);
                assertThat(folder.resolve("one/admin.token"))
                        .as("somebody was written")
                        .exists();
            }
        } finally {
            database.destroy();
            database.waitFor();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"serve", "demo", "database", "restore"})
    void whatTheLauncherStartsSaysWhatItIsFor(String command) throws Exception {
        Process process = new ProcessBuilder("../servitor", command, "--help")
                .redirectErrorStream(true)
                .start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(said).isZero();
        assertThat(said).contains("servitor " + command);
    }
}
