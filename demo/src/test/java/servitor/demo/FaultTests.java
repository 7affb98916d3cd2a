package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Disks that are full, files that are damaged or in use: the service says so, says what to do, and loses nothing silently. */
class FaultTests {
    private static final int PATIENCE = 90;
    private static final int PAGE = 64 * 1024;

    @TempDir
    private Path folder;

    private Process small(Path data, String... before) throws IOException {
        ProcessBuilder small = Trained.java()
                .process(
                        List.of("-Xmx256m"),
                        "servitor.demo.SmallService",
                        Files.createDirectories(data).toString(),
                        "http://127.0.0.1:9",
                        "http://127.0.0.1:9");
        small.command().addAll(0, List.of(before));
        return small.redirectErrorStream(true).start();
    }

    private static BufferedReader out(Process process) {
        return new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    }

    /** Everything a process says until a line begins with {@code until}, or it ends. */
    private static String said(BufferedReader out, String until) throws IOException {
        StringBuilder said = new StringBuilder();
        for (String line = out.readLine(); line != null; line = out.readLine()) {
            said.append(line).append('\n');
            if (line.startsWith(until)) {
                break;
            }
        }
        return said.toString();
    }

    /** Lets a service open cases and ends it, kindly or at once. */
    private void used(Path data, boolean kindly) throws Exception {
        Process process = small(data);
        BufferedReader out = out(process);
        assertThat(said(out, "READY")).contains("READY");
        PrintStream in = new PrintStream(process.getOutputStream(), true, StandardCharsets.UTF_8);
        for (int i = 0; i < 5; i++) {
            in.println("SK-66000" + i);
            assertThat(said(out, "ACKNOWLEDGED")).contains("ACKNOWLEDGED");
        }
        if (kindly) {
            in.close();
            assertThat(process.waitFor(PATIENCE, TimeUnit.SECONDS)).isTrue();
        } else {
            process.destroyForcibly().waitFor();
        }
    }

    private static String failsToStart(Process process) throws Exception {
        String said = said(out(process), "READY");
        assertThat(process.waitFor(PATIENCE, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).as(said).isNotZero();
        return said;
    }

    @Test
    void aDatabaseThatLostItsNewestRowsIsRefusedUntilSomebodyAcceptsTheLoss() throws Exception {
        Path data = folder.resolve("data");
        used(data, true);
        Path file = data.resolve("ledger.mv.db");
        Path older = folder.resolve("older.mv.db");
        Files.copy(file, older);
        used(data, true);
        Files.copy(older, file, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
        assertThat(failsToStart(small(data)))
                .contains("was acknowledged")
                .contains("Restore the newest backup")
                .contains("accept-loss");
        Process accepting = small(data, "env", "JDK_JAVA_OPTIONS=-Dservitor.accept-loss=true");
        assertThat(said(out(accepting), "READY")).contains("the loss is accepted");
        accepting.getOutputStream().close();
        assertThat(accepting.waitFor(PATIENCE, TimeUnit.SECONDS)).isTrue();
        Process again = small(data);
        assertThat(said(out(again), "READY"))
                .as("from here on it starts as ever")
                .contains("READY");
        again.destroyForcibly().waitFor();
    }

    @Test
    void aTornLastPageIsNoticed() throws Exception {
        Path data = folder.resolve("torn");
        used(data, false);
        try (RandomAccessFile file =
                new RandomAccessFile(data.resolve("ledger.mv.db").toFile(), "rw")) {
            file.seek(Math.max(0, file.length() - PAGE));
            file.write(new byte[(int) Math.min(PAGE, file.length() - file.getFilePointer())]);
        }
        assertThat(failsToStart(small(data)))
                .containsAnyOf("was acknowledged", "is damaged")
                .contains("backup");
    }

    @Test
    void aDatabaseInUseIsNamed() throws Exception {
        Path data = folder.resolve("shared");
        Process first = small(data);
        assertThat(said(out(first), "READY")).contains("READY");
        assertThat(failsToStart(small(data)))
                .contains("open in another process")
                .contains("Stop the other service");
        first.destroyForcibly().waitFor();
    }

    @Test
    void aDiskThatFillsUpEndsTheServiceAndKeepsWhatItAcknowledged() throws Exception {
        Path data = folder.resolve("full");
        used(data, true);
        long blocks = Files.size(data.resolve("ledger.mv.db")) / 1024 + 150;
        Process process = small(data, "bash", "-c", "ulimit -f " + blocks + "; exec \"$@\"", "bash");
        BufferedReader out = out(process);
        PrintStream in = new PrintStream(process.getOutputStream(), true, StandardCharsets.UTF_8);
        List<String> acknowledged = new ArrayList<>();
        StringBuilder said = new StringBuilder(said(out, "READY"));
        for (int i = 0; process.isAlive() && i < 500; i++) {
            in.println("SK-67%04d".formatted(i));
            String answer = said(out, "ACKNOWLEDGED");
            said.append(answer);
            if (answer.contains("ACKNOWLEDGED ")) {
                acknowledged.add(answer.replaceAll("(?s).*ACKNOWLEDGED (C-\\d+).*", "$1"));
            }
        }
        assertThat(process.waitFor(PATIENCE, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).as("%s", said).isEqualTo(3);
        assertThat(said).contains("See that the disk has room");
        Process again = small(data);
        assertThat(said(out(again), "READY")).contains("READY");
        again.destroyForcibly().waitFor();
        try (var database = java.sql.DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "");
                var statement = database.createStatement();
                var all = statement.executeQuery("select id from case_record")) {
            List<String> there = new ArrayList<>();
            while (all.next()) {
                there.add(all.getString(1));
            }
            assertThat(acknowledged).isNotEmpty();
            assertThat(there).containsAll(acknowledged);
        }
    }

    @Test
    void aFolderThatCannotBeWrittenIsNamed() throws Exception {
        Path blocked = Files.writeString(folder.resolve("a-file"), "no folder").resolve("data");
        Process process = Trained.java()
                .process(List.of("-Dservitor.data=" + blocked), "servitor.service.ServitorApplication")
                .redirectErrorStream(true)
                .start();
        assertThat(failsToStart(process))
                .contains("can't write to its data folder " + blocked)
                .contains("Nothing was changed");
    }

    @Test
    void aFileThatCannotBeWrittenIsNamed() throws Exception {
        Path data = folder.resolve("data");
        Path head = Files.createDirectories(data.resolve("head")); // a folder can't be written, whoever one is
        Process process = Trained.java()
                .process(List.of("-Dservitor.data=" + data), "servitor.service.ServitorApplication")
                .redirectErrorStream(true)
                .start();
        assertThat(failsToStart(process))
                .contains("can't write to " + head)
                .contains("Nothing was changed")
                .doesNotContain("\tat ");
    }

    @Test
    void theDataFolderIsWhereTheArgumentSays() throws Exception {
        Path data = folder.resolve("data");
        Process process = Trained.java()
                .process(
                        List.of("-Duser.dir=" + folder),
                        "servitor.service.ServitorApplication",
                        "--servitor.data=" + data,
                        "--server.port=0")
                .redirectErrorStream(true)
                .start();
        try {
            BufferedReader out = out(process);
            String line = out.readLine();
            while (line != null && !line.contains("listens at")) {
                line = out.readLine();
            }
            assertThat(line).contains("its data is in " + data);
            assertThat(data.resolve("ledger.mv.db")).exists();
            assertThat(data.resolve("head")).exists();
        } finally {
            process.destroyForcibly().waitFor();
        }
    }
}
