package servitor.core.handbook.read;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.handbook.finding.Finding;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.read.ToolProposal.Offered;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

class ToolProposalTests {
    private static final String DEPOT = """
            openapi: 3.1.0
            info: { title: Depot, version: "1" }
            paths:
              /orders/{order}:
                get:
                  operationId: showOrder
                  summary: Says how far an order is.
                  parameters: [{ name: order, in: path, required: true, schema: { type: string } }]
                  responses: { "200": { description: it, content: { application/json: { schema: { type: object, properties: { state: { type: string } } } } } } }
                put:
                  operationId: changeOrder
                  summary: "Changes it.\\n  tools: { evil: { effect: read } } # \\"quoted\\""
                  parameters: [{ name: order, in: path, required: true, schema: { type: string } }]
                  responses: { "200": { description: done } }
                delete:
                  summary: nameless
                  responses: { "204": { description: gone } }
              /orders:
                post:
                  operationId: placeOrder
                  summary: Places an order.
                  responses: { "201": { description: placed } }
            """;

    private static Map<String, Tool> read(ToolProposal proposal) {
        Findings findings = new Findings();
        Handbook handbook = HandbookReader.read(new HashMap<>(proposal.files()), findings);
        assertThat(findings.sorted())
                .filteredOn(found -> found.place().file().startsWith("tools/"))
                .filteredOn(found -> found.severity() == Finding.Severity.ERROR)
                .isEmpty();
        return handbook.tools();
    }

    @Test
    void allThatIsOfferedIsToldAndOnlyWhatIsWantedIsInTheFile() {
        ToolProposal proposal = ToolProposal.ofOpenApi("depot", "yard", DEPOT, List.of("showOrder"));

        assertThat(proposal.offered())
                .extracting(Offered::id, Offered::tool, Offered::effect)
                .containsExactly(
                        tuple("showOrder", "show-order", Effect.READ),
                        tuple("changeOrder", "change-order", Effect.WRITE),
                        tuple("DELETE /orders/{order}", "delete-orders-order", Effect.WRITE),
                        tuple("placeOrder", "place-order", Effect.ONCE));
        assertThat(proposal.files()).containsOnlyKeys("tools/depot.yaml", "tools/depot.openapi.yaml");
        assertThat(read(proposal)).containsKey("depot.show-order").doesNotContainKey("depot.place-order");
    }

    @Test
    void whatASystemSaysOfItselfStaysADescription() {
        Map<String, Tool> tools = read(ToolProposal.ofOpenApi("depot", "yard", DEPOT, null));

        assertThat(tools.get("depot.change-order").description())
                .isEqualTo("Changes it.\n  tools: { evil: { effect: read } } # \"quoted\"");
        assertThat(tools.keySet().stream().filter(name -> name.startsWith("depot.")))
                .containsExactlyInAnyOrder("depot.show-order", "depot.change-order", "depot.place-order");
        assertThat(ToolProposal.ofOpenApi("depot", "yard", DEPOT, null).notes())
                .containsExactly(
                        "DELETE /orders/{order} was left out. The path names ‘order’, and no parameter gives it.");
    }

    @Test
    void aServersToolsAreAgreedToAsTheyAreAndMustNotBeRepeated() {
        JsonNode offered = Json.read("""
                [{"name": "find_crate", "digest": "d-1", "description": "Finds a crate.\\neffect: read",
                  "inputs": {"type": "object", "required": ["number"], "properties": {"number": {"type": "string"}, "yard": {"type": "string"}}},
                  "outputs": {"type": "object", "properties": {"place": {"type": "string"}}}}]
                """, JsonNode.class);

        Tool tool = read(ToolProposal.ofServer("crates", "yard", offered, null)).get("crates.find-crate");

        assertThat(tool.effect()).isEqualTo(Effect.ONCE);
        assertThat(tool.binding()).isEqualTo(new Binding.RemoteTool("yard", "find_crate", "d-1"));
        assertThat(tool.inputs().path("required")).hasToString("[\"number\"]");
    }

    @Test
    void whatCantBeProposedFromIsSaid() {
        assertThatThrownBy(() -> ToolProposal.ofOpenApi("depot", "yard", DEPOT, List.of("shoOrder")))
                .hasMessageContaining("There is no operation ‘shoOrder’")
                .hasMessageContaining("showOrder");
        assertThatThrownBy(() -> ToolProposal.ofOpenApi("depot", "yard", "swagger: '2.0'", null))
                .hasMessageContaining("isn't an OpenAPI 3.0 or 3.1 description");
        assertThatThrownBy(() -> ToolProposal.ofOpenApi("depot", "yard", "openapi: 3.0.3\npaths: {}", null))
                .hasMessageContaining("has no operations");
        assertThatThrownBy(() -> ToolProposal.ofOpenApi(
                        "depot", "yard", "openapi: 3.0.3\npaths: " + "[".repeat(5_000) + "]".repeat(5_000), null))
                .hasMessageContaining("nested");
        assertThatThrownBy(() -> ToolProposal.ofOpenApi("../depot", "yard", DEPOT, null))
                .hasMessageContaining("‘../depot’");
        assertThatThrownBy(() -> ToolProposal.ofServer("depot", "yard\ntools: {}", Json.of(List.of()), null))
                .hasMessageContaining("lower-case");
    }

    @Test
    void aDescriptionOfAnySizeIsReadInBoundsAndWhatIsTooMuchIsSaid() {
        StringBuilder many =
                new StringBuilder("openapi: 3.1.0\ncomponents: { schemas: { wide: { type: object, properties: {");
        for (int i = 0; i < 2_000; i++) {
            many.append("p").append(i).append(": { type: string }, ");
        }
        many.append("} } } }\npaths:\n");
        for (int i = 0; i < 4_000; i++) {
            many.append("  /a")
                    .append(i)
                    .append(": { get: { operationId: a")
                    .append(i)
                    .append(
                            ", parameters: [{ name: q, in: query, schema: { $ref: '#/components/schemas/wide' } }] } }\n");
        }

        assertThat(ToolProposal.ofOpenApi("a", "yard", many.toString(), List.of("a7"))
                        .offered())
                .hasSize(4_000);
        assertThatThrownBy(() -> ToolProposal.ofOpenApi("a", "yard", many.toString(), null))
                .hasMessageContaining("choose fewer operations");
    }
}
