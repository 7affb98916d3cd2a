package servitor.demo.peers;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.operation.HttpTool;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.handbook.Tool;
import servitor.core.handbook.finding.Finding;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.openapi.ApiDescription;
import servitor.core.handbook.openapi.Documents;
import servitor.core.handbook.read.HandbookReader;
import servitor.core.handbook.read.ToolProposal;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Large public descriptions, as their packages ship them: thirty operations of each are imported without an error that isn't one,
 * and called on a server that is made of the description and holds every request to it.
 */
@Tag("outside")
@EnabledIfSystemProperty(named = "peers.long", matches = "true")
class DescriptionPeerTests {
    private static final int OPERATIONS = 30;

    @TempDir
    Path folder;

    @ParameterizedTest
    @ValueSource(
            strings = {
                "@octokit/openapi/generated/api.github.com.json",
                "@octokit/openapi/generated/ghes-3.19.json",
                "@figma/rest-api-spec/openapi/openapi.yaml",
                "@readme/oas-examples/3.1/json/readme.json",
                "@readme/oas-examples/3.0/json/star-trek.json",
                "@readme/oas-examples/3.1/json/train-travel.json"
            })
    void thirtyOperationsAreImportedAndCalledAsTheDescriptionSays(String file) throws Exception {
        String text = Files.readString(Peers.LONG.installed(file));
        ToolProposal proposal = ToolProposal.ofOpenApi("api", "api", text, some(text));
        Findings findings = new Findings();
        Map<String, Tool> tools =
                HandbookReader.read(proposal.files(), findings).tools();
        assertThat(findings.sorted())
                .filteredOn(finding -> finding.place().file().startsWith("tools/"))
                .filteredOn(finding -> finding.severity() == Finding.Severity.ERROR)
                .isEmpty();
        Path cut =
                Files.writeString(folder.resolve("api.json"), proposal.files().get("tools/api.openapi.yaml"));
        try (Mock mock = new Mock(cut, folder)) {
            List<String> faults = new ArrayList<>();
            int called = 0;
            for (Tool tool : tools.values()) {
                if (tool.binding() instanceof HttpOperation operation
                        && !tool.examples().isEmpty()) {
                    assertThat(Schemas.violations(tool.given(), tool.examples().get(0)))
                            .isEmpty();
                    Reply reply = call(mock, operation, tool.examples().get(0));
                    called++;
                    if (isInvalid(reply)) {
                        faults.add(tool.name() + " " + tool.examples().get(0) + ": " + reply);
                    }
                }
            }
            assertThat(faults).isEmpty();
            assertThat(called).isPositive();
        }
    }

    private static List<String> some(String text) {
        List<String> names = List.copyOf(
                new ApiDescription(Documents.read(text)).operations().keySet());
        int step = Math.max(1, names.size() / OPERATIONS);
        List<String> some = new ArrayList<>();
        for (int i = 0; i < names.size() && some.size() < OPERATIONS; i += step) {
            some.add(names.get(i));
        }
        return some;
    }

    private static Reply call(Mock mock, HttpOperation operation, JsonNode example) throws InterruptedException {
        return new HttpTool()
                .call(
                        new Access(mock.url(), new Credentials.Bearer("any-token-does"), true),
                        operation,
                        (ObjectNode) example,
                        "key-1",
                        Deadline.in(Duration.ofSeconds(30)));
    }

    /** What the server says of a request that isn't as the description wants it, or goes nowhere in it. */
    private static boolean isInvalid(Reply reply) {
        return reply instanceof Reply.NotSent
                || reply instanceof Reply.Refused
                || reply instanceof Reply.Failed failed
                        && (failed.status() == 422 || failed.detail().contains("NO_") || failed.status() == 415);
    }

    /** The server that is made of a description. */
    private static final class Mock implements AutoCloseable {
        private final int port;
        private final Process process;

        Mock(Path description, Path folder) throws Exception {
            port = freePort();
            process = new ProcessBuilder(
                            Peers.node().toString(),
                            Peers.LONG
                                    .installed("@stoplight/prism-cli/dist/index.js")
                                    .toString(),
                            "mock",
                            description.toString(),
                            "-p",
                            String.valueOf(port),
                            "-h",
                            "127.0.0.1")
                    .redirectErrorStream(true)
                    .redirectOutput(folder.resolve("mock.log").toFile())
                    .start();
            for (int tries = 0; !answers(); tries++) {
                assertThat(process.isAlive() && tries < 600)
                        .as(Files.readString(folder.resolve("mock.log")))
                        .isTrue();
                TimeUnit.MILLISECONDS.sleep(100);
            }
        }

        private boolean answers() {
            try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
                return socket.isConnected();
            } catch (IOException e) {
                return false;
            }
        }

        URI url() {
            return URI.create("http://127.0.0.1:" + port);
        }

        private static int freePort() throws IOException {
            try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
                return socket.getLocalPort();
            }
        }

        @Override
        public void close() throws Exception {
            process.destroy();
            process.waitFor();
        }
    }
}
