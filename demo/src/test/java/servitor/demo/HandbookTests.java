package servitor.demo;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import servitor.cli.client.Client;
import servitor.cli.client.Trouble;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** The handbook from the first change to the publishing of it, by API, command line and in the browser. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class) // one handbook, and editions are counted
class HandbookTests {
    private static final String PAGE = "runbooks/cancelled-sailing-refund.md";
    private static final String MANDATE = "mandates/purser.yaml";
    private static Household household;
    private final Console console = new Console(household);

    @BeforeAll
    static void furnish() {
        household = new Household();
        Client admin = household.as("maren");
        assertThat(admin.get("/api/handbook/editions")).hasSize(1);
    }

    @AfterAll
    static void close() {
        household.close();
    }

    @AfterEach
    void nothingWasComplainedOf() {
        assertThat(console.complaints()).as("errors in the browser's console").isEmpty();
    }

    private static String file(String path) {
        return "/api/handbook/draft/file?path=" + Client.part(path);
    }

    private static String text(Client who, String path) {
        return who.get(file(path)).path("text").asString();
    }

    private static String change(String path) {
        for (JsonNode file : household.as("maren").get("/api/handbook/draft").path("files")) {
            if (file.path("path").asString().equals(path)) {
                return file.path("change").asString() + (file.path("conflict").asBoolean() ? ", conflict" : "");
            }
        }
        return "";
    }

    @Test
    @Order(1)
    void whatIsTypedIsCheckedKeptAndPublishedFromTheBrowser() {
        Page page = console.open("maren", "/handbook/runbooks~cancelled-sailing-refund.md", ColorScheme.LIGHT);
        Locator content = page.locator(".cm-content");
        content.getByText("go: pay").click();
        page.keyboard().press("End");
        page.keyboard().type("e");
        assertThat(page.getByText("There is no step ‘paye’.")).isVisible();
        page.reload();
        assertThat(page.getByText("There is no step ‘paye’.")).isVisible();
        assertThat(page.getByText("kept, not published")).isVisible();
        page.locator(".cm-content").getByText("go: paye").click();
        page.keyboard().press("End");
        page.keyboard().press("Backspace");
        assertThat(page.getByText("No errors: this handbook can be published.")).isVisible();
        assertThat(page.getByText("as published")).isVisible();

        page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("In words"))
                .click();
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Pay Changes something"))
                .click();
        assertThat(page.locator(".cm-activeLine")).containsText("## Pay");
        page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Drawn"))
                .click();
        page.locator("[data-step='send']").click();
        assertThat(page.locator(".cm-activeLine")).containsText("## Send");

        page.navigate("/handbook/mandates~purser.yaml");
        page.getByText("as a form").click();
        Locator condition = page.getByLabel("Only when").nth(2);
        condition.fill(condition.inputValue().replace("120.0", "200.0"));
        condition.blur();
        assertThat(page.getByText("kept, not published")).isVisible();
        page.getByText("Compare and publish").click();
        assertThat(page.getByText("The step ‘Pay’ now asks Duty managers above 200, was 120"))
                .isVisible();
        page.getByLabel("What changed, and why").fill("The season is over.");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Publish"))
                .click();
        assertThat(page.getByText("Published as edition 2.")).isVisible();
        assertThat(page.getByText("You have changed nothing.")).isVisible();
        page.getByText("Editions", new Page.GetByTextOptions().setExact(true)).click();
        assertThat(page.getByText("The season is over.")).isVisible();
    }

    @Test
    @Order(2)
    void completionOffersStepsAndTheNamesInScope() {
        Page page = console.open("maren", "/handbook/runbooks~complaint-answer.md", ColorScheme.DARK);
        page.locator(".cm-content").click();
        page.keyboard().press("Control+End");
        page.keyboard().type("\n## Thanks\n```step\ntell: requester\ntext: \"${seen.");
        assertThat(page.locator(".cm-tooltip-autocomplete")).containsText("heart");
        page.keyboard().press("Escape");
        page.getByText("give up my change").click();
        assertThat(page.getByText("as published")).isVisible();
        assertThat(page.locator(".cm-content")).not().containsText("## Thanks");
    }

    @Test
    @Order(3)
    void nobodyOverwritesAnybodySilently() {
        Client maren = household.as("maren");
        String page = text(maren, PAGE);
        maren.put(file(PAGE), Map.of("text", page.replace("friendly sentences", "short sentences")));
        // somebody else publishes the same file meanwhile
        household.publish("maren", with(PAGE, page.replace("friendly sentences", "warm sentences")), "Warmer");
        assertThat(change(PAGE)).isEqualTo("changed, conflict");
        assertThat(refused(() -> maren.post("/api/handbook/draft/publish", Map.of("note", "x"))))
                .contains("published " + PAGE + " meanwhile");

        Client second = household.engineer("nils");
        second.put(file(PAGE), Map.of("text", page.replace("friendly sentences", "brief sentences")));
        Page browser = console.open("maren", "/handbook/runbooks~cancelled-sailing-refund.md", ColorScheme.LIGHT);
        assertThat(browser.getByText("nils also has unpublished changes here")).isVisible();
        browser.getByText("See the difference").click();
        assertThat(browser.locator("ins").first()).containsText("short");
        browser.getByText("Keep mine over it").click();
        Household.await("the conflict to be settled", () -> change(PAGE).equals("changed"));
        maren.post("/api/handbook/draft/publish", Map.of("note", "Shorter"));
        assertThat(text(maren, PAGE)).contains("short sentences");
    }

    private static Map<String, String> with(String path, String text) {
        Map<String, String> files = new java.util.TreeMap<>();
        household
                .as("maren")
                .get("/api/handbook/editions/"
                        + household
                                .as("maren")
                                .get("/api/handbook/editions")
                                .path(0)
                                .path("number")
                                .asInt())
                .path("files")
                .properties()
                .forEach(e -> files.put(e.getKey(), e.getValue().asString()));
        files.put(path, text);
        return files;
    }

    private static String refused(Runnable attempt) {
        try {
            attempt.run();
        } catch (Trouble trouble) {
            return trouble.getMessage();
        }
        throw new AssertionError("this should have been refused");
    }

    @Test
    @Order(4)
    void editionsAreComparedExportedAndGoneBackTo() {
        Said compared = household.run("--as", "maren", "handbook", "compare", "1", "2");
        assertThat(compared.out()).contains("The step ‘Pay’ now asks Duty managers above 200, was 120");
        assertThat(household
                        .run("--as", "maren", "handbook", "compare", "1", "2", "--text")
                        .out())
                .contains("args.amount <= 120.0")
                .contains("args.amount <= 200.0");
        Path folder = household.folder.resolve("exported");
        assertThat(household
                        .run("--as", "maren", "handbook", "export", "1", folder.toString())
                        .code())
                .isZero();
        assertThat(household.run("handbook", "check", folder.toString()).out()).contains("can be published");
        Said restored = household.run("--as", "maren", "handbook", "restore", "1");
        assertThat(restored.out()).contains("Published as edition 5.");
        assertThat(household
                        .run("--as", "maren", "handbook", "publish", folder.toString())
                        .out())
                .as("the folder stays the source")
                .contains("Nothing changed: edition 5");
        assertThat(household.run("--as", "osei", "handbook", "restore", "1").code())
                .isEqualTo(4);
    }

    @Test
    @Order(5)
    void waitingRunsMoveOnlyWhereNothingTheyStandOnDiffers() {
        String id = household.openRefund("ines", "SK-610001");
        household.approvalOf(id);
        String run = household
                .as("noor")
                .get("/api/cases/" + id)
                .path("runs")
                .path(0)
                .path("id")
                .asString();
        String page = text(household.as("maren"), PAGE);
        publish(
                PAGE,
                page.replace("edit: answer\n", "edit: answer\nshow: [booking]\n")
                        .replace(
                                "declined: hand over, expired: hand over, exhausted",
                                "declined: stop, expired: hand over, exhausted"));
        assertThat(household
                        .run("--as", "maren", "run", "move", run, "--to", "6")
                        .err())
                .contains("the ways on from ‘Check the wording’ differ");
        publish(PAGE, page.replace("No promises beyond that.", "No promises beyond that, ever."));
        Said moved = household.run("--as", "maren", "run", "move", run, "--to", "7");
        assertThat(moved.code()).as(moved.err()).isZero();
        assertThat(household.as("noor").get("/api/runs/" + run).path("edition").asInt())
                .isEqualTo(7);
        assertThat(household.run("--as", "noor", "trail", "show", "--case", id).out())
                .contains("run-moved");
        assertThat(household
                        .run("--as", "osei", "run", "move", run, "--to", "6")
                        .code())
                .isEqualTo(4);
        household.run("--as", "osei", "approval", "decide", household.approvalOf(id), "--approve");
        Household.await("the moved run to finish", () -> household.state(id).equals("resolved"));
    }

    private static void publish(String path, String text) {
        household.publish("maren", with(path, text), "by a test");
    }

    @Test
    @Order(6)
    void aTightenedMandateAppliesToRunsThatStartedBefore() {
        String id = household.openRefund("ines", "SK-610002");
        String wording = household.approvalOf(id);
        String mandate = text(household.as("maren"), MANDATE);
        publish(
                MANDATE,
                mandate.replace(
                        "tools: [case.reply, case.mail, case.find-mail]\n    verdict: allow",
                        "tools: [case.reply, case.mail, case.find-mail]\n    verdict: ask"));
        household.run("--as", "osei", "approval", "decide", wording, "--approve");
        Household.await("the gate to ask", () -> !household.approvalOf(id).equals(wording));
        assertThat(household.run("--as", "osei", "approval", "list").out()).contains("Reply: ‘Good day Ines");
        publish(MANDATE, mandate);
    }

    @Test
    @Order(7)
    void aStartingPointComesIntoTheDraft() {
        Page page = console.open("maren", "/handbook/start", ColorScheme.LIGHT);
        page.getByText("Answer a question", new Page.GetByTextOptions().setExact(true))
                .click();
        page.getByLabel("The desk").selectOption("it");
        page.getByLabel("The group that answers").selectOption("it-resolvers");
        page.getByText("Put it into my draft").click();
        assertThat(page.getByRole(
                        AriaRole.HEADING, new Page.GetByRoleOptions().setName("runbooks/answer-a-question.md")))
                .isVisible();
        assertThat(page.getByText("No errors: this handbook can be published.")).isVisible();
        Said listed = household.run("handbook", "new");
        assertThat(listed.out()).contains("order-equipment").contains("--set desk=service");
        Path folder = household.folder.resolve("begun");
        assertThat(household
                        .run("handbook", "new", folder.toString(), "--from", "refund-within-limits")
                        .code())
                .isZero();
        assertThat(household.run("handbook", "check", folder.toString()).code()).isZero();
        assertThat(household
                        .run("runbook", "explain", "refund-within-limits", "--in", folder.toString())
                        .out())
                .contains("Refund within limits");
        assertThat(household
                        .run("--as", "sunniva", "runbook", "draw", "lost-property", "--format", "dot")
                        .out())
                .startsWith("digraph");
    }

    /** What there is to choose from comes from the connection itself: the queues are those of the project that is chosen. */
    @Test
    @Order(7)
    void aStartingPointOffersWhatItsConnectionHas() {
        Page page = console.open("maren", "/handbook/start", ColorScheme.LIGHT);
        page.getByText("File a task", new Page.GetByTextOptions().setExact(true))
                .click();
        page.getByLabel("The connection to the board").selectOption("board");
        assertThat(page.getByLabel("The project")).hasValue("terminals");
        assertThat(page.getByLabel("The queue")).hasValue("kiosks");
        page.getByLabel("The project").selectOption("Vessels in service");
        assertThat(page.getByLabel("The queue")).hasValue("deck");
        page.getByLabel("The queue").selectOption("Before the survey");
        page.getByText("Put it into my draft").click();
        assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("runbooks/file-a-task.md")))
                .isVisible();
        String text = household
                .as("maren")
                .get("/api/handbook/draft/file?path=runbooks/file-a-task.md")
                .path("text")
                .asString();
        assertThat(text).contains("project: \"vessels\"", "queue: \"survey\"");
        household
                .as("maren")
                .get("/api/handbook/draft")
                .path("files")
                .forEach(file -> household
                        .as("maren")
                        .delete("/api/handbook/draft/file?path="
                                + file.path("path").asString()));

        Said choices = household.run(
                "--as",
                "maren",
                "handbook",
                "choices",
                "file-a-task",
                "--set",
                "connection=board",
                "--set",
                "project=vessels");
        assertThat(choices.out()).contains("--set project=terminals", "--set queue=engine-room   In the engine room");
        assertThat(household
                        .run("--as", "maren", "handbook", "choices", "file-a-task", "--set", "connection=nowhere")
                        .out())
                .contains("project: ", "nowhere");
        assertThat(household
                        .run("--as", "maren", "handbook", "choices", "file-a-task", "--set", "project=../x")
                        .err())
                .contains("can't be the project");
    }

    @Test
    @Order(8)
    void noPageOfTheHandbookHasASeriousAccessibilityFault() {
        for (ColorScheme scheme : List.of(ColorScheme.LIGHT, ColorScheme.DARK)) {
            Page page = console.open("maren", "/handbook/runbooks~lost-property.md", scheme);
            assertThat(page.locator("h1")).containsText("Handbook");
            for (String path : List.of(
                    "/handbook/runbooks~lost-property.md",
                    "/handbook/agents~purser.yaml",
                    "/handbook/start",
                    "/handbook/import",
                    "/handbook/changes",
                    "/handbook/editions")) {
                page.navigate(path);
                assertThat(page.locator("h1")).isVisible();
                if (path.contains("agents")) {
                    page.getByText("as a form").click();
                }
                assertThat(Console.seriousFaults(page))
                        .as("%s in %s", path, scheme)
                        .isEmpty();
            }
            page.context().close();
        }
    }

    @Test
    @Order(9)
    void toolsThatASystemOffersAreChosenAndComeIntoTheDraft() {
        Page page = console.open("maren", "/handbook/import", ColorScheme.LIGHT);
        page.getByLabel("They go out by the connection").selectOption("fares");
        page.getByLabel("The description").setInputFiles(Path.of("handbook/tools/fares.openapi.yaml"));
        page.getByLabel("The file is called").fill("fares");
        assertThat(page.getByText("tools/fares.yaml is there already.")).isVisible();
        page.getByLabel("The file is called").fill("fare-desk");
        Locator look = page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("See what it offers"));
        look.click();
        assertThat(page.getByText("It offers 6 tools")).isVisible();
        page.getByLabel("fare-desk.find-sailing").check();
        page.getByText("Put it into my draft").click();
        assertThat(page.locator(".cm-content")).containsText("operation: \"findSailing\"");
        assertThat(page.locator(".cm-content")).not().containsText("payRefund");
        assertThat(page.getByText("No errors: this handbook can be published.")).isVisible();
        assertThat(change("tools/fare-desk.openapi.yaml")).isEqualTo("added");

        page.getByText("Import tools").click();
        page.getByLabel("They go out by the connection").selectOption("kit");
        page.getByLabel("the tool server there, asked now").check();
        page.getByLabel("The file is called").fill("store");
        look.click();
        page.getByLabel("store.find-kit").check();
        page.getByText("Put it into my draft").click();
        assertThat(page.locator(".cm-content")).containsText("agreed: ");
        assertThat(page.getByText("No errors: this handbook can be published.")).isVisible();
    }

    @Test
    @Order(10)
    void draftsAreForEngineersAndStayInTheFolder() {
        assertThat(refused(() -> household.as("osei").get("/api/handbook/draft")))
                .contains("engineers");
        assertThat(refused(() -> household.as("maren").put(file("../x.yaml"), Map.of("text", "x"))))
                .contains("can't be a handbook file");
        assertThat(refused(() -> household.as("maren").get(file("runbooks/none.md"))))
                .contains("none.md");
    }
}
