package servitor.demo.peers;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.json.Json;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/** The official client of the chat-completions format, against the model server's stand-in. */
@Tag("outside")
class ChatPeerTests {
    @TempDir
    Path folder;

    @Test
    void theOfficialClientIsAnsweredInEveryWayItAsks() throws Exception {
        try (Standins standins = new Standins(Standins.Ports.ANY, folder)) {
            Peers.Said said = Peers.script(
                    "chat.mjs", Map.of("MODELS", standins.models().url().toString()));
            assertThat(said.exit()).as(said.out()).isZero();
            assertThat(Json.read(said.out(), JsonNode.class)).isEqualTo(Json.read("""
                    {"models": ["stand-in-writer"], "model": "stand-in", "whole": true, "finish": "stop", "counted": true,
                     "cut": ["length", 2], "streamed": true, "streamedUsage": true,
                     "unknownModel": [404, "invalid_request_error", "model_not_found"],
                     "noMessages": [400, "invalid_request_error", null]}
                    """, JsonNode.class));
        }
    }
}
