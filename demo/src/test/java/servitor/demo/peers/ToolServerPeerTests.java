package servitor.demo.peers;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.mcp.RemoteTools;
import servitor.connectors.mcp.RemoteTools.Described;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.RemoteTool;
import servitor.core.handbook.Tool;
import servitor.core.handbook.finding.Finding;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.read.HandbookReader;
import servitor.core.handbook.read.ToolProposal;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The protocol's reference servers: every tool can be imported, and those that say something in a certain form are called. */
@Tag("outside")
class ToolServerPeerTests {
    private static final Duration LIMIT = Duration.ofSeconds(30);

    @TempDir
    Path folder;

    private final RemoteTools tools = new RemoteTools();

    private Access server(String name, String... arguments) throws Exception {
        Path program = Peers.of("@modelcontextprotocol/server-" + name).resolve("dist/index.js");
        String line = java.util.stream.Stream.concat(
                        java.util.stream.Stream.of(program.toString()), List.of(arguments).stream())
                .map(argument -> "arg=" + URLEncoder.encode(argument, StandardCharsets.UTF_8))
                .collect(Collectors.joining("&"));
        return new Access(URI.create("exec:" + Peers.node() + "?" + line), new Credentials.None(), true);
    }

    private Map<String, Described> offered(Access server) throws InterruptedException {
        return tools.tools(server, Deadline.in(LIMIT)).stream()
                .collect(Collectors.toMap(Described::name, Function.identity(), (one, other) -> one, TreeMap::new));
    }

    private Reply call(Access server, Map<String, Described> offered, String tool, String args)
            throws InterruptedException {
        return tools.call(
                server,
                new RemoteTool("peer", tool, offered.get(tool).digest()),
                (ObjectNode) Json.read(args, JsonNode.class),
                "key-1",
                Deadline.in(LIMIT));
    }

    /** All of a server's tools as a file of tools, without a finding that stops anybody. */
    private static Map<String, Tool> imported(Map<String, Described> offered) {
        ToolProposal proposal = ToolProposal.ofServer("peer", "peer", Json.of(List.copyOf(offered.values())), null);
        Findings findings = new Findings();
        Map<String, Tool> read = HandbookReader.read(proposal.files(), findings).tools();
        assertThat(findings.sorted())
                .filteredOn(finding -> finding.place().file().startsWith("tools/"))
                .filteredOn(finding -> finding.severity() == Finding.Severity.ERROR)
                .isEmpty();
        offered.values().forEach(one -> {
            Tool tool = read.get("peer."
                    + proposal.offered().stream()
                            .filter(it -> it.id().equals(one.name()))
                            .findFirst()
                            .orElseThrow()
                            .tool());
            assertThat(Schemas.fault(tool.inputs())).as(one.name()).isEmpty();
            assertThat(tool.inputs().path("properties").propertyNames())
                    .as(one.name())
                    .containsExactlyElementsOf(one.inputs().path("properties").propertyNames());
        });
        return read;
    }

    @Test
    void theOneWithEverythingIsImportedAndCalled() throws Exception {
        Access server = server("everything", "stdio");
        Map<String, Described> offered = offered(server);
        imported(offered);
        assertThat(call(server, offered, "echo", "{\"message\":\"Ahoy\"}"))
                .isInstanceOfSatisfying(
                        Reply.Answered.class,
                        said -> assertThat(said.body().path("text").asString()).contains("Ahoy"));
        assertThat(call(server, offered, "get-structured-content", "{\"location\":\"Chicago\"}"))
                .isInstanceOfSatisfying(
                        Reply.Answered.class,
                        said -> assertThat(said.body().path("temperature").isNumber())
                                .isTrue());
        assertThat(call(server, offered, "get-tiny-image", "{}"))
                .isInstanceOfSatisfying(Reply.WithTranscript.class, said -> {
                    assertThat(said.transcript()).startsWith("= an image, image/png\niVBOR");
                    assertThat(((Reply.Answered) said.reply())
                                    .body()
                                    .path("text")
                                    .asString())
                            .contains("[an image, image/png: kept with the call]");
                });
        assertThat(call(server, offered, "get-resource-links", "{\"count\":2}"))
                .isInstanceOfSatisfying(
                        Reply.WithTranscript.class,
                        said -> assertThat(said.transcript()).contains("= a link, "));
        assertThat(call(server, offered, "echo", "{\"message\":7}")).isInstanceOf(Reply.Refused.class);
    }

    @Test
    void theOneForFilesSaysWhatOnlyReads() throws Exception {
        Files.writeString(folder.resolve("note.txt"), "The tide turns at four.");
        Access server = server("filesystem", folder.toString());
        Map<String, Described> offered = offered(server);
        Map<String, Tool> read = imported(offered);
        assertThat(read.get("peer.list-directory").effect().word()).isEqualTo("read");
        assertThat(read.get("peer.write-file").effect().acts()).isTrue();
        assertThat(call(
                        server,
                        offered,
                        "read_text_file",
                        Json.write(Json.object()
                                .put("path", folder.resolve("note.txt").toString()))))
                .isInstanceOfSatisfying(
                        Reply.Answered.class,
                        said -> assertThat(Json.write(said.body())).contains("The tide turns at four."));
        assertThat(call(server, offered, "read_text_file", "{\"path\":\"/etc/hostname\"}"))
                .isInstanceOfSatisfying(
                        Reply.Refused.class,
                        refused -> assertThat(refused.detail()).contains("denied"));
    }

    @Test
    void theOneForMemoryIsImported() throws Exception {
        Map<String, Described> offered = offered(server("memory"));
        assertThat(imported(offered)).containsKey("peer.create-entities");
    }
}
