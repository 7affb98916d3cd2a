package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.util.FileSystemUtils;
import servitor.cli.client.Client;
import servitor.demo.Household.Said;

/** The client as its users type it: what it prints, and how it ends. */
class CommandLineTests {
    private final Household household = Household.shared();

    @Test
    void aCaseIsOpenedFollowedAndAnsweredByCommands() {
        Said opened = household.run(
                "--as",
                "ines",
                "case",
                "open",
                "--kind",
                "refund",
                "--subject",
                "My fare",
                "--field",
                "booking=SK-600800",
                "--text",
                "Please.");
        assertThat(opened.code()).as(opened.err()).isZero();
        String id = opened.out().replaceAll("(?s).*Opened (C-\\d+).*", "$1");
        String approval = household.approvalOf(id);
        assertThat(household
                        .run("--as", "ines", "case", "reply", id, "--text", "Is there any news?")
                        .code())
                .isZero();
        Said stale =
                household.run("--as", "osei", "approval", "decide", approval, "--approve", "--sheet", "000000000000");
        assertThat(stale.code()).isEqualTo(1);
        assertThat(stale.err()).contains("not the one you saw");
        assertThat(household
                        .run(
                                "--as",
                                "osei",
                                "approval",
                                "decide",
                                approval,
                                "--approve",
                                "--text",
                                "Good day Ines, it is paid.")
                        .code())
                .isZero();
        Household.await(id + " to be resolved", () -> household.state(id).equals("resolved"));
        Said shown = household.run("--as", "ines", "case", "show", id);
        assertThat(shown.out())
                .contains("Good day Ines, it is paid.")
                .contains("Is there any news?")
                .contains("resolved");
        Said followed = household.run(
                "--as", "osei", "run", "show", approval.substring(0, approval.lastIndexOf('-')), "--follow");
        assertThat(followed.out()).contains("call-sent").contains("run-finished");
        assertThat(household.run("--as", "osei", "case", "list", "--search", id).out())
                .contains("My fare");
        assertThat(Client.JSON
                        .readTree(household
                                .run("--as", "osei", "case", "show", id, "--json")
                                .out())
                        .path("summary")
                        .path("id")
                        .asString())
                .isEqualTo(id);
    }

    @Test
    void everyEndHasItsExitCode() {
        assertThat(household.run("--version").code()).isZero();
        assertThat(household.run("case", "lst").code()).isEqualTo(2);
        assertThat(household.run().code()).isEqualTo(2);
        assertThat(household.run("--as", "nobody", "case", "list").code()).isEqualTo(2);
        assertThat(household.run("--url", "http://127.0.0.1:1", "case", "list").code())
                .isEqualTo(3);
        assertThat(household
                        .run("--url", household.url().toString(), "case", "list")
                        .code())
                .isEqualTo(4);
        assertThat(household.run("--as", "osei", "user", "list").code()).isEqualTo(4);
        assertThat(household.run("--as", "osei", "case", "show", "C-1").code()).isEqualTo(1);
        assertThat(household
                        .run("--as", "ines", "case", "open", "--kind", "refnd", "--subject", "x")
                        .code())
                .isEqualTo(1);
        assertThat(household
                        .run("--as", "osei", "approval", "decide", "R-1", "--approve", "--decline")
                        .code())
                .isEqualTo(2);
        assertThat(household.run("trail", "verify", "--file", "/does/not/exist").code())
                .isEqualTo(2);
    }

    @Test
    void aHandbookIsCheckedOfflineAndPublishedOnce(@TempDir Path folder) throws IOException {
        Said sound = household.run("handbook", "check", "handbook");
        assertThat(sound.code()).as(sound.out()).isZero();
        Path copy = folder.resolveSibling("copy"); // publishing leaves a mark in the folder
        FileSystemUtils.copyRecursively(Path.of("handbook"), copy);
        String editions = household.run("--as", "maren", "handbook", "list").out();
        Said same = household.run("--as", "maren", "handbook", "publish", copy.toString());
        assertThat(same.out()).contains("Nothing changed");
        Files.createDirectories(folder.resolve("runbooks"));
        Files.writeString(folder.resolve("runbooks/x.md"), "no front matter");
        Files.write(folder.resolve("runbooks/.hidden"), new byte[] {(byte) 0xff});
        Said broken = household.run("handbook", "check", folder.toString());
        assertThat(broken.code()).isEqualTo(1);
        assertThat(broken.out()).contains("runbooks/x.md:1:1: error: The page has no front matter.");
        assertThat(household
                        .run("--as", "maren", "handbook", "publish", folder.toString())
                        .code())
                .isEqualTo(1);
        assertThat(household.run("--as", "maren", "handbook", "list").out())
                .isEqualTo(editions)
                .contains("(current)")
                .contains("Maren Tvedt");
        Files.write(folder.resolve("runbooks/y.md"), new byte[] {(byte) 0xff, (byte) 0xfe});
        assertThat(household.run("handbook", "check", folder.toString()).err()).contains("not a text file");
    }

    @Test
    void theLauncherStartsTheClient() throws Exception {
        Process process = new ProcessBuilder("../servitor", "handbook", "check", "handbook")
                .redirectErrorStream(true)
                .start();
        String out = new String(process.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        assertThat(process.waitFor(2, TimeUnit.MINUTES)).isTrue();
        assertThat(process.exitValue()).as(out).isZero();
        assertThat(out).contains("0 error(s)");
    }
}
