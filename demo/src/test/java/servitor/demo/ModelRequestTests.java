package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.cli.client.Client;
import tools.jackson.databind.JsonNode;

/** What is asked of models is of the chat-completions format, strictly: the stand-in takes nothing else. */
class ModelRequestTests {
    private final Household household = Household.shared();
    private final Client maren = household.as("maren");

    @Test
    void everyStepOfEveryDemoPageIsTaken() {
        int tried = 0;
        for (JsonNode agent : maren.get("/api/agents")) {
            String name = agent.path("name").asString();
            for (JsonNode page : maren.get("/api/agents/" + name).path("pages")) {
                for (JsonNode step : page.path("steps")) {
                    maren.post(
                            "/api/agents/" + name + "/try",
                            Map.of(
                                    "page", page.path("name").asString(),
                                    "step", step.path("address").asString(),
                                    "text", "I lost my blue umbrella yesterday, and need a scanner."));
                    tried++;
                }
            }
        }
        assertThat(tried).isGreaterThanOrEqualTo(10);
        assertThat(household.standins.models().asked()).hasSizeGreaterThanOrEqualTo(tried - 3);
        assertThat(household.standins.models().refused()).isEmpty();
    }
}
