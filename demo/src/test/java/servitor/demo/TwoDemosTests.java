package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.cli.client.Client;
import servitor.cli.client.Profile;

/** Two demos on one machine at the same time, by the same person. */
class TwoDemosTests {
    private static final int PORTS_OF_A_DEMO = 15;

    @TempDir
    private Path folder;

    private final List<Process> started = new ArrayList<>();

    @AfterEach
    void stop() throws InterruptedException {
        started.forEach(Process::destroy);
        for (Process process : started) {
            assertThat(process.waitFor(60, TimeUnit.SECONDS))
                    .as("it ends kindly")
                    .isTrue();
        }
    }

    private void start(String name, int port) throws IOException {
        ProcessBuilder demo = Java.ofThisProcess()
                .process(
                        List.of(),
                        "servitor.demo.DemoCommand",
                        "--without-past",
                        "--handbook=handbook",
                        "--port=" + port,
                        "--data=" + folder.resolve(name));
        demo.environment().put("HOME", folder.toString());
        demo.environment().remove("SERVITOR_CONFIG");
        started.add(demo.redirectErrorStream(true)
                .redirectOutput(said(name).toFile())
                .start());
    }

    /** The first of so many ports in a row that nobody listens on, below those that are given out to whoever asks for any. */
    private static int freePorts(int wanted) {
        for (int first = 14_000; first < 32_000; first += wanted) {
            int from = first;
            if (IntStream.range(from, from + wanted).allMatch(TwoDemosTests::isFree)) {
                return from;
            }
        }
        throw new AssertionError("there are no " + wanted + " free ports in a row");
    }

    private static boolean isFree(int port) {
        try (ServerSocket socket = new ServerSocket(port, 1, InetAddress.getLoopbackAddress())) {
            return socket.isBound();
        } catch (IOException e) {
            return false;
        }
    }

    private Path said(String name) {
        return folder.resolve(name + ".log");
    }

    private boolean ready(String name) {
        try {
            String said = Files.readString(said(name));
            assertThat(started).as(said).allMatch(Process::isAlive);
            return said.contains("Servitor is ready");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private Profile profileOf(String name) throws IOException {
        return DemoSeeder.profileOf(folder.resolve(name).resolve("profiles"), "maren");
    }

    @Test
    void neitherTakesTheProfilesOfTheOtherOrOfWhoeverRunsThem() throws Exception {
        int port = freePorts(2 * PORTS_OF_A_DEMO);
        start("one", port);
        start("other", port + PORTS_OF_A_DEMO);
        Household.await("both", () -> ready("one") && ready("other"));

        assertThat(profileOf("one").url()).endsWith(":" + port);
        assertThat(profileOf("other").url()).endsWith(":" + (port + PORTS_OF_A_DEMO));
        for (String name : List.of("one", "other")) {
            assertThat(new Client(profileOf(name))
                            .get("/api/session")
                            .path("id")
                            .asString())
                    .as("the token is good there")
                    .isEqualTo("maren");
        }
        assertThat(folder.resolve(".config"))
                .as("profiles of one's own are left alone")
                .doesNotExist();
    }
}
