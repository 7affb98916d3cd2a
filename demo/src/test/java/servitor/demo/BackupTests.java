package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.cli.Profile;
import servitor.demo.Household.Said;

/** A backup is made while the service works, and what is restored from it holds and goes on. */
class BackupTests {
    private record Ended(int code, String said) {}

    private static Ended restore(Path backup, Path folder) throws Exception {
        Process process = Trained.java()
                .process(List.of(), "servitor.service.ledger.Restore", backup.toString(), folder.toString())
                .redirectErrorStream(true)
                .start();
        String said = new String(process.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        assertThat(process.waitFor(1, TimeUnit.MINUTES)).isTrue();
        return new Ended(process.exitValue(), said);
    }

    @Test
    void whatIsRestoredHoldsAndGoesOn(@TempDir Path folder) throws Exception {
        Path backup = folder.resolve("backup.zip");
        try (Household household = new Household()) {
            new Profile(
                            household.url().toString(),
                            Files.readString(household.data().resolve("admin.token")))
                    .save(household.profiles(), "admin");
            String early = household.openRefund("ines", "SK-680001");
            household.approvalOf(early);
            for (int i = 2; i < 8; i++) {
                household.openRefund("ines", "SK-68000" + i);
            }
            Said made = household.run("--as", "admin", "backup", backup.toString());
            assertThat(made.code()).as(made.err()).isZero();
            assertThat(household
                            .run("--as", "admin", "backup", backup.toString())
                            .code())
                    .as("nothing is written over")
                    .isEqualTo(2);
            assertThat(household
                            .run("--as", "maren", "backup", folder.resolve("x").toString())
                            .code())
                    .isEqualTo(4);
            household.service.close();

            Path restored = folder.resolve("restored");
            Ended ended = restore(backup, restored);
            assertThat(ended.code()).as(ended.said()).isZero();
            assertThat(ended.said()).contains("entries of the trail hold");
            assertThat(restore(backup, restored).said()).contains("holds a database already");

            try (ServiceProcess service =
                    ServiceProcess.start(Trained.java(), household.url().getPort(), restored, List.of())) {
                service.awaitReady(Household.PATIENCE);
                household.run("--as", "osei", "approval", "decide", household.approvalOf(early), "--approve");
                Household.await("the run to go on", () -> household.state(early).equals("resolved"));
                assertThat(household.run("--as", "noor", "trail", "verify").code())
                        .isZero();
            }
        }
    }

    @Test
    void whatEndedLongAgoMovesOutAndTheTrailKeepsItsDigest() throws Exception {
        try (Household household = new Household()) {
            new Profile(
                            household.url().toString(),
                            Files.readString(household.data().resolve("admin.token")))
                    .save(household.profiles(), "admin");
            String ended = household.openRefund("ines", "SK-681001");
            household.run("--as", "osei", "approval", "decide", household.approvalOf(ended), "--approve");
            Household.await("it to be resolved", () -> household.state(ended).equals("resolved"));
            String waits = household.openRefund("ines", "SK-681002");
            household.approvalOf(waits);
            String prompt = household
                    .entryWithMaterial(ended, "model-asked")
                    .path("seq")
                    .asString();
            assertThat(household
                            .run("--as", "noor", "trail", "material", prompt)
                            .out())
                    .contains("layout");
            Said none = household.run("--as", "admin", "run", "move-out", "--older-than", "P1D");
            assertThat(none.out()).contains("0 runs");
            assertThat(household
                            .run("--as", "admin", "run", "move-out", "--older-than", "soon")
                            .code())
                    .isEqualTo(1);
            Said moved = household.run("--as", "admin", "run", "move-out", "--older-than", "PT0S");
            assertThat(moved.out()).contains("1 runs");

            var run =
                    household.as("noor").get("/api/cases/" + ended).path("runs").path(0);
            assertThat(run.path("status").asString()).isEqualTo("finished");
            assertThat(run.path("known")).isEmpty();
            var entry = household
                    .as("noor")
                    .get("/api/trail?case=" + ended + "&what=run-moved-out&limit=200")
                    .path("items");
            String line;
            try (var files = Files.list(household.data().resolve("archive"))) {
                Path file = files.filter(path -> path.getFileName().toString().startsWith("runs-"))
                        .findFirst()
                        .orElseThrow();
                line = Files.readString(file).strip();
            }
            assertThat(line).contains("SK-681001").contains("\"answers\"");
            assertThat(entry.toString()).contains(servitor.core.json.Json.digest(line));
            assertThat(household
                            .run("--as", "noor", "trail", "material", prompt)
                            .err())
                    .contains("has moved out of the database");
            assertThat(household.run("--as", "noor", "trail", "verify").code()).isZero();
            household.run("--as", "osei", "approval", "decide", household.approvalOf(waits), "--approve");
            Household.await("what waits to go on", () -> household.state(waits).equals("resolved"));
        }
    }

    @Test
    void whatIsNoBackupIsRefused(@TempDir Path folder) throws Exception {
        Path text = Files.writeString(folder.resolve("text.zip"), "no zip");
        assertThat(restore(text, folder.resolve("a")).code()).isEqualTo(1);
        assertThat(restore(folder.resolve("nothing.zip"), folder.resolve("b")).code())
                .isEqualTo(2);
        Path other = folder.resolve("other.zip");
        try (var zip = new java.util.zip.ZipOutputStream(Files.newOutputStream(other))) {
            zip.putNextEntry(new java.util.zip.ZipEntry("../../evil"));
            zip.write(1);
        }
        Ended ended = restore(other, folder.resolve("c"));
        assertThat(ended.code()).isEqualTo(1);
        assertThat(ended.said()).contains("isn't a backup");
        assertThat(folder.getParent().resolve("evil")).doesNotExist();
    }
}
