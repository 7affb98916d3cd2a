package servitor.demo;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.LoadState;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** The console in headless Chromium, against the started service. */
class ConsoleTests {
    private final Household household = Household.shared();
    private final Console console = new Console(household);

    @AfterEach
    void nothingWasComplainedOf() {
        assertThat(console.complaints()).as("errors in the browser's console").isEmpty();
    }

    private Page open(String person, String path, ColorScheme scheme) {
        return console.open(person, path, scheme);
    }

    @Test
    void anApproverEditsAndApprovesAndTheRequesterSeesTheAnswerArrive() {
        String id = household.openRefund("ines", "SK-600701");
        String approval = household.approvalOf(id);

        Page requester = open("ines", "/cases/" + id, ColorScheme.LIGHT);
        assertThat(requester.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("Refund SK-600701")))
                .isVisible();
        assertThat(requester.getByText("Who did what")).not().isVisible();

        Page resolver = open("sunniva", "/cases", ColorScheme.LIGHT);
        resolver.getByLabel("Search cases").fill(id);
        resolver.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Refund SK-600701"))
                .click();
        assertThat(resolver.getByText("Called fares.pay-refund")).isVisible();

        Page approver = open("osei", "/approvals/" + approval, ColorScheme.LIGHT);
        Locator text = approver.getByLabel("The text, which you may change");
        assertThat(text).hasValue(java.util.regex.Pattern.compile("Good day Ines.*"));
        text.fill("Good day Ines, your fare is on its way, with our thanks.");
        assertThat(approver.locator("ins").last()).containsText("thanks");
        approver.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("Send this answer?"))
                .click();
        approver.keyboard().press("a");
        assertThat(approver.getByText("Osei Brandt approved with changes")).isVisible();

        assertThat(requester.getByText("your fare is on its way, with our thanks."))
                .isVisible();
        assertThat(resolver.getByText("Approved, with an edit")).isVisible();
        assertThat(resolver.getByText("Ended: resolved")).isVisible();
        resolver.reload();
        assertThat(resolver.getByText("Ended: resolved")).isVisible();
        assertThat(household.standins.fares().refunds())
                .anyMatch(refund -> refund.path("reference").asString().equals("SK-600701"));
    }

    @Test
    void decliningAsksForAReasonFirst() {
        String id = household.openRefund("ines", "SK-600702");
        String approval = household.approvalOf(id);
        Page page = open("lucja", "/approvals/" + approval, ColorScheme.DARK);
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Decline d"))
                .click();
        Locator reason = page.getByLabel("Why not? The answer to the requester is written from this.");
        assertThat(reason).isFocused();
        assertThat(page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Decline")))
                .isDisabled();
        reason.fill("Not in our words.");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Decline"))
                .click();
        assertThat(page.getByText("Lucja Farrow declined")).isVisible();
        Household.await("the hand-over", () -> household.state(id).equals("with-people"));
    }

    @Test
    void aRequesterAsksByFormAndHearsWhatIsWrong() {
        Page page = open("ines", "/ask", ColorScheme.LIGHT);
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Refund of a fare"))
                .click();
        page.getByLabel("In a few words").fill("My fare");
        page.getByLabel("Booking reference").fill("not a reference");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Send"))
                .click();
        assertThat(page.getByText("This doesn’t look right. Two letters")).isVisible();
        assertThat(page.getByLabel("Booking reference")).isFocused();
        page.getByLabel("Booking reference").fill("SK-600703");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Send"))
                .click();
        assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("My fare")))
                .isVisible();
        assertThat(page).hasURL(java.util.regex.Pattern.compile(".*/cases/C-\\d+"));
    }

    @Test
    void listsMoveByKeyboardAndAWrongPasswordIsSaid() {
        household.openRefund("ines", "SK-600704");
        household.openRefund("ines", "SK-600705");
        Page page = open("ines", "/cases", ColorScheme.LIGHT);
        assertThat(page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Refund SK-600705")))
                .isVisible();
        page.keyboard().press("j");
        page.keyboard().press("j");
        page.keyboard().press("k");
        page.keyboard().press("Enter");
        assertThat(page).hasURL(java.util.regex.Pattern.compile(".*/cases/C-\\d+"));
        page.keyboard().press("?");
        assertThat(page.getByRole(AriaRole.DIALOG)).isVisible();
        page.keyboard().press("Escape");
        page.getByText("sign out").click();
        page.getByLabel("Name").fill("ines");
        page.getByLabel("Password").fill("wrong");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Sign in"))
                .click();
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("don't go together");
    }

    @Test
    void whatAListIsNarrowedToStandsInTheAddressAndPlacesInTheTitle() {
        String id = household.openRefund("ines", "SK-600741");
        household.approvalOf(id);
        Page page = open("sunniva", "/cases?q=SK-600741", ColorScheme.LIGHT);
        assertThat(page.getByText("Refund SK-600741")).isVisible();
        assertThat(page.locator("tbody tr")).hasCount(1);
        assertThat(page).hasTitle(Pattern.compile("^(\\(\\d+\\+?\\) )?Cases · Servitor$"));

        page.getByLabel("Search cases").fill("nothing like it");
        assertThat(page.getByText("No case fits")).isVisible();
        assertThat(page).hasURL(household.url() + "/cases?q=nothing+like+it");

        page.navigate("/cases/" + id);
        assertThat(page).hasTitle(Pattern.compile("^(\\(\\d+\\+?\\) )?" + id + " Refund SK-600741 · Servitor$"));
    }

    @Test
    void aPlaceThatIsNotThereIsAPageForPeopleAndAProblemForPrograms() {
        Page page = open("sunniva", "/cases", ColorScheme.LIGHT);
        assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("Cases")))
                .isVisible();
        page.navigate("/no/such/place");
        assertThat(page.getByText("Nothing is here")).isVisible();

        Http.Answer answer = Http.as(household, "sunniva").get("/no/such/place");
        assertThat(answer.status()).isEqualTo(404);
        assertThat(answer.body()).startsWith("{");
    }

    @Test
    void aPersonResolvesWhatWasHandedOverHoweverLongItsSubject() {
        String subject = "Refund-for-" + "averylongword".repeat(13);
        String id = household.open("ines", "refund", subject, "Please.", java.util.Map.of("booking", "SK-99998"));
        Household.await("people to have it", () -> household.state(id).equals("with-people"));
        Page page = open("sunniva", "/today", ColorScheme.LIGHT);
        assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("Today")))
                .isVisible();
        for (String path : List.of("/today", "/cases", "/cases/" + id)) {
            page.navigate(path);
            assertThat(page.getByText(subject).first()).isVisible();
            assertThat((Boolean) page.evaluate("document.documentElement.scrollWidth <= window.innerWidth"))
                    .as("%s is no wider than the window", path)
                    .isTrue();
        }
        page.setViewportSize(390, 844);
        for (String path : List.of("/today", "/cases", "/approvals", "/runs", "/cases/" + id)) {
            page.navigate(path);
            assertThat(page.getByRole(AriaRole.HEADING).first()).isVisible();
            page.waitForLoadState(LoadState.NETWORKIDLE);
            assertThat((Boolean) page.evaluate("document.documentElement.scrollWidth <= window.innerWidth"))
                    .as("%s is no wider than a telephone", path)
                    .isTrue();
        }
        page.setViewportSize(1280, 800);
        page.getByLabel("What was done?").fill("Paid at the counter.");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Resolve the case"))
                .click();
        assertThat(page.getByText("Resolved the case")).isVisible();
        assertThat(household.state(id)).isEqualTo("resolved");
    }

    @Test
    void aLinkOpensItsFormAndBackShowsAllOfThem() {
        Page page = open("ines", "/ask?kind=lost-thing", ColorScheme.LIGHT);
        assertThat(page.getByLabel("What was lost")).isVisible();
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Back"))
                .click();
        assertThat(page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Refund of a fare")))
                .isVisible();
    }

    @Test
    void whatAMonitorPostedIsSeenAndAMessageIsTriedBeforeItIsTakenIn() throws Exception {
        household.standins.kiosks().set("varra-2", "dark");
        String id = new Monitor(household.url())
                .sees("varra-2", "dark", "seen in the console")
                .caseId();
        Page page = open("teun", "/intake", ColorScheme.DARK);
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("/kiosks/varra-2"))
                .first()
                .click();
        assertThat(page.getByText("seen in the console")).isVisible();
        page.locator("li.sheet", new Page.LocatorOptions().setHasText("/api/hooks/kiosk-alarms"))
                .getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Paste a message"))
                .click();
        Locator pasted = page.getByLabel("A message, as the system sends it");
        pasted.fill("{\"kiosk\": ");
        Locator look = page.getByRole(
                AriaRole.BUTTON,
                new Page.GetByRoleOptions().setName("See what becomes of it").setExact(true));
        look.click();
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("JSON");
        pasted.fill("{\"kiosk\":\"varra-2\",\"harbour\":\"Varra\",\"state\":\"dark\",\"firmware\":\"7\"}");
        look.click();
        assertThat(page.getByText("It would come to " + id)).isVisible();
        assertThat(page.getByText("firmware", new Page.GetByTextOptions().setExact(true)))
                .isVisible();
        assertThat(Console.seriousFaults(page)).isEmpty();
        page.context().close();
    }

    @Test
    void noPageHasASeriousAccessibilityFault() {
        String id = household.openRefund("ines", "SK-600706");
        String approval = household.approvalOf(id);
        for (ColorScheme scheme : List.of(ColorScheme.LIGHT, ColorScheme.DARK)) {
            Page page = open("osei", "/today", scheme);
            assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("Today")))
                    .isVisible();
            for (String path : List.of(
                    "/today",
                    "/cases",
                    "/cases/" + id,
                    "/approvals",
                    "/approvals/" + approval,
                    "/runs",
                    "/ask",
                    "/form/lost-thing")) {
                page.navigate(path);
                assertThat(page.locator("h1")).isVisible();
                assertThat(Console.seriousFaults(page))
                        .as("%s in %s", path, scheme)
                        .isEmpty();
            }
            page.context().close();
        }
    }
}
