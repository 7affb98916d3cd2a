package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.demo.Household.Said;

/** A backup is made while the service works, and what is restored from it holds and goes on. */
class BackupTests {
    private record Ended(int code, String said) {}

    private static Ended restore(Path backup, Path folder, String... more) throws Exception {
        return restore(backup.toString(), folder, ProcessBuilder.Redirect.PIPE, more);
    }

    private static Ended restore(String backup, Path folder, ProcessBuilder.Redirect input, String... more)
            throws Exception {
        List<String> words = new ArrayList<>(List.of(backup, folder.toString()));
        words.addAll(List.of(more));
        Process process = Trained.java()
                .process(List.of(), "servitor.service.ledger.Restore", words.toArray(String[]::new))
                .redirectErrorStream(true)
                .redirectInput(input)
                .start();
        String said = new String(process.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        assertThat(process.waitFor(1, TimeUnit.MINUTES)).isTrue();
        return new Ended(process.exitValue(), said);
    }

    @Test
    void whatIsRestoredHoldsAndGoesOn(@TempDir Path folder) throws Exception {
        Path backup = folder.resolve("backup.zip");
        try (Household household = new Household()) {
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
            assertThat(ended.said()).contains("entries of the trail hold").contains("--keys");
            Path withKeys = folder.resolve("with-keys");
            Path keys = household.data().resolve("keys");
            assertThat(restore(backup, withKeys, "--keys", keys.toString()).code())
                    .isZero();
            assertThat(withKeys.resolve("keys")).hasSameBinaryContentAs(keys);
            Path other = Files.writeString(
                    folder.resolve("other-keys"), Files.readString(keys).replaceAll("[0-9]", "7"));
            assertThat(restore(backup, folder.resolve("other"), "--keys", other.toString())
                            .code())
                    .as("keys that open nothing of it")
                    .isNotZero();
            assertThat(restore(backup, restored).said()).contains("holds a database already");
            Ended piped = restore("-", folder.resolve("piped"), ProcessBuilder.Redirect.from(backup.toFile()));
            assertThat(piped.code()).as(piped.said()).isZero();

            try (ServiceProcess service =
                    ServiceProcess.start(Trained.java(), household.url().getPort(), restored, List.of())) {
                service.awaitReady(Household.PATIENCE);
                household.run("--as", "osei", "approval", "decide", household.approvalOf(early), "--approve");
                Household.await("the run to go on", () -> household.state(early).equals("resolved"));
                assertThat(household.run("--as", "noor", "trail", "verify").code())
                        .isZero();
                numbersAndKeysOfBeforeDoNotComeBack(household, early);
            }
        }
    }

    private static void numbersAndKeysOfBeforeDoNotComeBack(Household household, String early) {
        List<String> before = keysOfPayments(household);
        String later = household.openRefund("ines", "SK-680050");
        household.approvalOf(later);
        assertThat(Long.parseLong(later.substring(2)))
                .as("cases after the loss have numbers that none before could have")
                .isGreaterThan(Long.parseLong(early.substring(2)) + 900_000);
        List<String> after = keysOfPayments(household);
        String key = after.get(after.size() - 1);
        assertThat(before).isNotEmpty().allSatisfy(old -> assertThat(epoch(old)).isNotEqualTo(epoch(key)));
        assertThat(household.standins.fares().refunds().stream()
                        .filter(refund -> refund.path("reference").asString().equals("SK-680050")))
                .as("the fares system took it for a payment of its own")
                .hasSize(1);
    }

    private static String epoch(String key) {
        return key.substring(0, key.indexOf('-'));
    }

    /** The keys that payments were sent with, the oldest first. */
    private static List<String> keysOfPayments(Household household) {
        List<String> keys = new ArrayList<>();
        household.as("noor").get("/api/trail?limit=200").path("items").forEach(entry -> {
            if (entry.path("data").path("tool").asString("").equals("fares.pay-refund")
                    && entry.path("what").asString().equals("call-sent")) {
                keys.add(0, entry.path("data").path("key").asString());
            }
        });
        return keys;
    }

    @Test
    void whatEndedLongAgoMovesOutAndTheTrailKeepsItsDigest() throws Exception {
        try (Household household = new Household()) {
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
