package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.regex.Pattern;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.cli.client.Client;
import servitor.cli.command.Servitor;
import servitor.standins.Standins;

/**
 * What an earlier version left behind opens, is migrated, verifies and goes on. The data were made by the demo of that version: the
 * refund scene with its open approvals, a case that waits for a reply, and a payment in doubt after a kill.
 */
class EarlierDataTests {
    /** Shortly after it was left, so that nothing has lapsed. */
    private static final Instant LEFT = Instant.parse("2026-11-28T10:05:00Z");

    private static final Pattern OPEN = Pattern.compile("Approval (\\S+): .* open");

    private static final String PAID =
            "{\"refund\":\"RF-1\",\"reference\":\"SK-620011\",\"amount\":52,\"currency\":\"EUR\"}";

    @TempDir
    private Path folder;

    private final Map<String, String> tokens = new HashMap<>();
    private ConfigurableApplicationContext service;

    private Path unpacked(String archive) throws IOException {
        Path data = Files.createDirectories(folder.resolve("data"));
        try (InputStream file = EarlierDataTests.class.getResourceAsStream("/earlier/" + archive);
                ZipInputStream zip = new ZipInputStream(file)) {
            for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
                Files.copy(zip, data.resolve(entry.getName()));
            }
        }
        return data;
    }

    /** Runs a command of the client as somebody; gives what it printed. */
    private String run(String person, String... args) {
        String url = WholeService.url(service).toString();
        String token = tokens.computeIfAbsent(person, id -> Client.signIn(url, id, Cast.PASSWORD, "test"));
        StringWriter out = new StringWriter();
        int code = Servitor.run(
                Map.of("SERVITOR_URL", url, "SERVITOR_TOKEN", token), new PrintWriter(out), new PrintWriter(out), args);
        assertThat(code).as(String.join(" ", args) + ": " + out).isZero();
        return out.toString();
    }

    private void shows(String caseId, String words) {
        Household.await(
                caseId + " to say ‘" + words + "’",
                () -> run("osei", "case", "show", caseId).contains(words));
    }

    private void approveWhatIsOpen(String caseId) {
        String approval = Household.await(
                "an approval of " + caseId,
                () -> OPEN.matcher(run("osei", "case", "show", caseId))
                        .results()
                        .map(found -> found.group(1))
                        .findFirst()
                        .orElse(null));
        run("osei", "approval", "decide", approval, "--approve");
    }

    private void connect(Standins standins) {
        run("admin", "connection", "set", "fares", standins.fares().url().toString(), "--inside");
        run("admin", "connection", "set", "models", standins.models().url().toString(), "--inside");
    }

    @Test
    void openApprovalsWaitingRunsAndACallInDoubtGoOn() throws Exception {
        Clock then = Clock.offset(Clock.systemUTC(), Duration.between(Instant.now(), LEFT));
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext started = WholeService.start(unpacked("before-stores.zip"), then)) {
            service = started;
            connect(standins);
            assertThat(run("noor", "trail", "verify")).contains("The trail holds");

            run("osei", "approval", "decide", "R-1001-6", "--approve");
            shows("C-1001", "resolved");

            run("lucja", "approval", "decide", "R-1002-4", "--approve");
            approveWhatIsOpen("C-1002");
            shows("C-1002", "resolved");
            assertThat(standins.fares().refunds())
                    .as("what had been asked about is paid, once")
                    .hasSize(1);

            run("ines", "case", "reply", "C-1008", "--text", "It is wool, with a green button.");
            Household.await(
                    "the waiting run to go on",
                    () -> !run("osei", "case", "show", "C-1008").contains("a reply of the requester"));

            run("osei", "run", "settle", "R-1010", "--happened", PAID, "--reason", "The fares system lists it.");
            approveWhatIsOpen("C-1010");
            shows("C-1010", "resolved");
            assertThat(standins.fares().refunds())
                    .as("what was in doubt isn't paid again")
                    .hasSize(1);

            assertThat(run("noor", "trail", "verify")).contains("The trail holds");
        }
    }
}
