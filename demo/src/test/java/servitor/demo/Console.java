package servitor.demo;

import com.deque.html.axecore.playwright.AxeBuilder;
import com.microsoft.playwright.Browser;
import com.microsoft.playwright.BrowserContext;
import com.microsoft.playwright.BrowserType;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Playwright;
import com.microsoft.playwright.assertions.PlaywrightAssertions;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** The console of a household in headless Chromium; one browser for all tests, a new context for each page. */
final class Console {
    private static final Path NODE_MODULE = Path.of("../console/node_modules/playwright-core");
    private static Browser browser;

    private final Household household;
    private final List<String> complaints = new ArrayList<>();

    Console(Household household) {
        this.household = household;
    }

    /** What the browser's console complained of so far. */
    List<String> complaints() {
        return complaints;
    }

    private static synchronized Browser browser() {
        if (browser == null) {
            browser = launch();
        }
        return browser;
    }

    private static Browser launch() {
        try {
            Path driver = Files.createDirectories(Path.of("target/playwright"));
            Path link = driver.resolve("package");
            Files.deleteIfExists(link);
            Files.createSymbolicLink(link, NODE_MODULE.toAbsolutePath().normalize());
            System.setProperty("playwright.cli.dir", driver.toAbsolutePath().toString());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        Playwright playwright = Playwright.create(new Playwright.CreateOptions()
                .setEnv(Map.of(
                        "PLAYWRIGHT_NODEJS_PATH", System.getenv().getOrDefault("SERVITOR_NODE", "/usr/bin/node"))));
        Runtime.getRuntime().addShutdownHook(new Thread(playwright::close));
        PlaywrightAssertions.setDefaultAssertionTimeout(30_000);
        return playwright
                .chromium()
                .launch(new BrowserType.LaunchOptions()
                        .setExecutablePath(
                                Path.of(System.getenv().getOrDefault("SERVITOR_CHROMIUM", "/usr/bin/chromium")))
                        .setArgs(List.of(
                                "--headless",
                                "--no-sandbox",
                                "--disable-gpu",
                                "--disable-quic",
                                "--no-first-run",
                                "--disable-background-networking",
                                "--disable-component-update",
                                "--disable-sync")));
    }

    /** What an accessibility scan finds serious or critical on a page. */
    static List<String> seriousFaults(Page page) {
        return new AxeBuilder(page)
                .analyze().getViolations().stream()
                        .filter(rule -> rule.getImpact().equals("serious")
                                || rule.getImpact().equals("critical"))
                        .map(rule -> rule.getId() + " " + rule.getNodes().get(0).getHtml())
                        .toList();
    }

    /** Opens a path and signs in there. */
    Page open(String person, String path, ColorScheme scheme) {
        BrowserContext context = browser()
                .newContext(new Browser.NewContextOptions()
                        .setBaseURL(household.url().toString())
                        .setViewportSize(1280, 800)
                        .setColorScheme(scheme));
        Page page = context.newPage();
        page.setDefaultTimeout(30_000);
        page.onPageError(complaints::add);
        page.onConsoleMessage(message -> {
            if (message.type().equals("error") && !message.text().contains("status of 4")) {
                complaints.add(message.text());
            }
        });
        page.navigate(path);
        page.getByLabel("Name").fill(person);
        page.getByLabel("Password").fill(Cast.PASSWORD);
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Sign in"))
                .click();
        return page;
    }
}
