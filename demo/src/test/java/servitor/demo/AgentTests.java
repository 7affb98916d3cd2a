package servitor.demo;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.cli.client.Client;
import servitor.core.json.Json;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** Agents as people see them, and steps that are tried out: nothing is called, nothing is kept on a case. */
class AgentTests {
    private static final Map<String, Object> MISSING =
            Map.of("page", "lost-property", "step", "What is missing?", "text", "I lost my blue umbrella");

    private final Household household = Household.shared();
    private final Client maren = household.as("maren");

    private static List<String> from(JsonNode told) {
        return told.path("parts")
                .valueStream()
                .map(part -> part.path("from").asString())
                .toList();
    }

    @Test
    void everyAgentIsShownWithWhatItIsForAndCouldDo() {
        Said list = household.run("--as", "maren", "agent", "list");
        assertThat(list.out()).contains("purser", "Settle what passengers ask about their bookings");
        assertThat(household.run("--as", "maren", "agent", "show", "purser").out())
                .contains(
                        "Always: Name amounts with the currency",
                        "assess: What is missing?",
                        "fares.pay-refund (write): never when args.amount > 600.0");
        assertThat(household.run("--as", "maren", "agent", "show", "nobody").code())
                .isEqualTo(1);
        assertThat(household.run("--as", "ines", "agent", "list").err())
                .contains("Handbooks are for the people of the desks.");
    }

    @Test
    void whatAnAgentsModelsUsedInAFollowedPageIsItsOwn() {
        household.approvalOf(household.open("ewan", "kit-wish", "A radio", "A radio for the watch, please.", Map.of()));
        assertThat(maren.get("/api/agents/lookout").at("/summary/lately/tokens").asInt())
                .isPositive();
    }

    @Test
    void whatAModelIsToldIsSeenPartByPart() {
        JsonNode told = maren.post("/api/agents/purser/prompt", MISSING);
        assertThat(from(told)).containsExactly("house", "brief", "servitor", "step", "form", "facts", "request");
        assertThat(told.path("parts").path(6).path("text").asString()).contains("I lost my blue umbrella");
        assertThat(told.path("tokens").asInt())
                .isEqualTo(told.path("parts")
                        .valueStream()
                        .mapToInt(part -> part.path("tokens").asInt())
                        .sum());
        assertThat(household.run("--as", "noor", "agent", "prompt", "purser").out())
                .contains("── brief, ", "Your job: Settle what passengers ask")
                .doesNotContain("# Instruction");
        Said first = household.run("--as", "maren", "agent", "try", "purser", "--text", "I lost my blue umbrella");
        assertThat(first.out())
                .as("at the first step that asks a model: " + first.err())
                .contains("reason: Written by a stand-in", " tokens used");
        assertThat(household
                        .run("--as", "maren", "agent", "try", "purser", "--page", "kiosk-down")
                        .err())
                .contains("‘purser’ works no page ‘kiosk-down’ that asks a model.");
        Said lacking = household.run(
                "--as", "maren", "agent", "prompt", "purser", "--page", "lost-property", "--step", "Look it up");
        assertThat(lacking.err()).contains("has no step ‘Look it up’ that asks a model");
    }

    @Test
    void aTryAsksTheModelAndNothingElse() {
        String id = household.open("tomas", "complaint", "A rude steward", "Your crew was rude.", Map.of());
        Household.await("its page", () -> household.state(id).equals("with-people"));
        JsonNode before = maren.get("/api/cases/" + id);
        Said tried = household.run(
                "--as",
                "maren",
                "agent",
                "try",
                "purser",
                "--page",
                "complaint-answer",
                "--step",
                "What is it about?",
                "--case",
                id);
        assertThat(tried.code()).as(tried.err()).isZero();
        assertThat(tried.out()).contains("topic: staff", "sure: ", " tokens used");
        String run = before.path("runs").path(0).path("id").asString();
        assertThat(household
                        .run("--as", "maren", "agent", "try", "purser", "--run", run)
                        .out())
                .as("at the first step of its page, with what it knew")
                .contains("topic: staff");
        assertThat(household
                        .run("--as", "maren", "agent", "try", "purser", "--run", "R-99999")
                        .err())
                .contains("R-99999");
        assertThat(maren.get("/api/cases/" + id).path("notes")).isEqualTo(before.path("notes"));
        JsonNode entry = maren.get("/api/trail?what=step-tried").path("items").path(0);
        assertThat(entry.toString()).contains("complaint-answer, What is it about?", "purser", "Maren");
        assertThat(entry.path("caseId").asString()).isEmpty();
    }

    @Test
    void callsItWouldMakeAreShownWithTheGatesWord() {
        household.add(Map.of("runbooks/wonder.md", """
                        ---
                        title: Wonder about a booking
                        desk: passengers
                        agent: purser
                        ---
                        ## Look into it
                        Find the booking that the request names, pay it back, and say whether that was done, in a few words.
                        ```step
                        pursue: goal
                        tools: [fares.pay-refund]
                        answer: { done: yes/no }
                        save: outcome
                        ```
                        ## Done
                        ```step
                        finish: resolved
                        ```
                        """), "A page to try");
        JsonNode tried = maren.post(
                "/api/agents/purser/try",
                Map.of(
                        "page",
                        "wonder",
                        "step",
                        "Look into it",
                        "text",
                        "Pay SK-51077 back",
                        "facts",
                        Map.of("booking", Map.of("reference", "SK-51077", "amount", 9_000.0))));
        assertThat(tried.path("told").path("tools").path(0).path("name").asString())
                .isEqualTo("fares.pay-refund");
        assertThat(tried.path("calls").path(0).path("tool").asString()).isEqualTo("fares.pay-refund");
        assertThat(tried.path("calls").path(0).path("verdict").asString()).isEqualTo("deny");
        assertThat(household.standins.fares().refunds().toString()).doesNotContain("9000");
    }

    @Test
    void modelsAreListedAndAskedAWord() {
        assertThat(household.run("--as", "noor", "model", "list").out())
                .contains("writer", "stand-in-writer", "0.5 / 1.5", "Purser");
        Said tried = household.run("--as", "maren", "model", "try", "writer");
        assertThat(tried.code()).as(tried.err()).isZero();
        assertThat(tried.out()).startsWith("Good day, ").contains("stand-in-writer (a stand-in), ", " ms");
        assertThat(maren.get("/api/trail?what=model-tried")
                        .path("items")
                        .path(0)
                        .toString())
                .contains("Tried the model writer", "Maren");
        household.standins.models().fail(1);
        Said busy = household.run("--as", "maren", "model", "try", "writer");
        assertThat(busy.code()).isEqualTo(1);
        assertThat(busy.out()).startsWith("unavailable: ");
    }

    /** The one that stands in answers, and the trail says who it was. */
    @Test
    void anotherModelStandsInAndTheStepSaysWho() {
        household.add(
                Map.of(
                        "handbook.yaml",
                        household.files(1).get("handbook.yaml")
                                + "  away: { connection: nowhere, name: none, window: 16000, can: [tools, schema, images], otherwise: writer }\n"),
                "A model that can't be had");
        Said tried = household.run("--as", "maren", "model", "try", "away");
        assertThat(tried.out()).contains("stand-in-writer (a stand-in), ");
        assertThat(household.run("--as", "maren", "model", "list").out()).contains("nowhere, not set up");
    }

    @Test
    void aCaseThatOneDoesntSeeCantBeTriedOn() {
        String medical = household.open("ewan", "sea-medical", "My certificate", "Here.", Map.of());
        Map<String, Object> on = Map.of("page", "sea-medical", "step", "What is it instead?", "caseId", medical);
        for (String way : List.of("prompt", "try")) {
            assertThat(Http.as(household, "maren")
                            .post("/api/agents/steward/" + way, Json.write(on))
                            .status())
                    .isEqualTo(404);
        }
        assertThat(Http.as(household, "noor")
                        .post("/api/agents/purser/try", Json.write(MISSING))
                        .status())
                .isEqualTo(403);
        Map<String, Object> draft = new java.util.HashMap<>(MISSING);
        draft.put("draft", true);
        assertThat(Http.as(household, "noor")
                        .post("/api/agents/purser/prompt", Json.write(draft))
                        .status())
                .isEqualTo(403);
    }

    @Test
    void onesDraftIsTriedBesideTheEditionInForce() {
        Client writes = household.engineer("tinkerer");
        String path = "/api/handbook/draft/file?path=" + Client.part("agents/purser.yaml");
        String text = writes.get(path).path("text").asString();
        writes.put(path, Map.of("text", text.replace("  rules:\n", "  rules:\n    - Sign as the purser.\n")));
        Map<String, Object> draft = new java.util.HashMap<>(MISSING);
        draft.put("draft", true);
        assertThat(writes.post("/api/agents/purser/prompt", draft).toString()).contains("Sign as the purser.");
        assertThat(writes.post("/api/agents/purser/prompt", MISSING).toString()).doesNotContain("Sign as the purser.");
        writes.put(path, Map.of("text", "title: [broken"));
        assertThatThrownBy(() -> writes.post("/api/agents/purser/prompt", draft))
                .hasMessageContaining("Your draft has errors");
        writes.delete(path);
    }

    @Test
    void samplesAreTriedByBothAndWhatDiffersIsMarked() {
        assertThat(household
                        .run("--as", "maren", "agent", "try", "purser", "--samples")
                        .out())
                .contains("What is missing?: My umbrella I lost my blue umbrella", "    missing: [\"the day\"]")
                .endsWith("Nothing differs.\n");
        String page = "/api/handbook/draft/file?path=" + Client.part("runbooks/lost-property.md");
        String text = maren.get(page).path("text").asString();
        maren.put(page, Map.of("text", text.replace("the colour and the day", "the colour")));
        try {
            Said differs = household.run("--as", "maren", "agent", "try", "purser", "--samples");
            assertThat(differs.code()).isEqualTo(1);
            assertThat(differs.out())
                    .contains("  ≠ missing: []\n      in force: [\"the day\"]")
                    .contains("    reason: ");
        } finally {
            maren.delete(page);
        }
    }

    @Test
    void theConsoleTriesAStepOut() {
        Console console = new Console(household);
        Page page = console.open("maren", "/agents", ColorScheme.LIGHT);
        page.getByText("ask it a word").first().click();
        assertThat(page.getByText("written by a model")).isVisible();
        assertThat(Console.seriousFaults(page)).isEmpty();
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Purser"))
                .click();
        page.getByLabel("Page", new Page.GetByLabelOptions().setExact(true)).selectOption("lost-property");
        page.getByLabel("Text", new Page.GetByLabelOptions().setExact(true)).fill("I lost my blue umbrella");
        page.getByText("See what it is told").click();
        page.getByText("the request", new Page.GetByTextOptions().setExact(true))
                .click();
        assertThat(page.locator("pre:visible")).containsText("I lost my blue umbrella");
        page.getByLabel("By", new Page.GetByLabelOptions().setExact(true)).selectOption("both");
        page.getByText("Ask the model").click();
        assertThat(page.getByText("By the edition in force")).isVisible();
        assertThat(page.getByText("By your draft")).isVisible();
        assertThat(page.getByText("[\"the day\"]")).hasCount(2);
        page.getByLabel("Subject").fill("One of Maren's");
        page.getByText("Keep as a sample").click();
        assertThat(page.getByText("Kept in your draft")).isVisible();
        assertThat(page.getByLabel("Samples").getByText("One of Maren's")).isVisible();
        page.getByText("Try all by both, side by side").click();
        assertThat(page.getByText("By your draft it is the same:")).hasCount(4);
        assertThat(Console.seriousFaults(page)).isEmpty();
        assertThat(console.complaints()).isEmpty();
        maren.delete("/api/handbook/draft/file?path=" + Client.part("agents/purser.yaml"));
    }
}
