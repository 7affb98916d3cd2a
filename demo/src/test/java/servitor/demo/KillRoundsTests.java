package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.Verifier;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/**
 * The small service is killed at random instants while it works, round after round: what it acknowledged is there, every
 * refund is paid once, the trail holds, and indexes agree with their tables. {@code -Dkill.rounds=200} for the long run.
 */
class KillRoundsTests {
    private static final int ROUNDS = Integer.getInteger("kill.rounds", 5);
    private static final long SEED = Long.getLong("seed", System.nanoTime());
    private static final int PATIENCE = 120;

    private final Map<String, String> acknowledged = new ConcurrentHashMap<>();
    private final StringBuffer said = new StringBuffer();

    private Process start(Path data, Standins standins) throws IOException {
        return Trained.java()
                .process(
                        List.of("-Xmx256m"),
                        "servitor.demo.SmallService",
                        data.toString(),
                        standins.fares().url().toString(),
                        standins.models().url().toString())
                .redirectError(ProcessBuilder.Redirect.appendTo(
                        data.resolve("small.log").toFile()))
                .start();
    }

    /** Notes what the process acknowledges, until it ends. */
    private Thread listen(Process process) {
        Thread thread = new Thread(() -> {
            try (BufferedReader out =
                    new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))) {
                for (String line = out.readLine(); line != null; line = out.readLine()) {
                    said.append(line).append('\n');
                    if (line.startsWith("ACKNOWLEDGED ")) {
                        String[] words = line.split(" ");
                        acknowledged.put(words[1], words[2]);
                    }
                }
            } catch (IOException e) {
                // the process was killed
            }
        });
        thread.start();
        return thread;
    }

    @Test
    void whateverTheInstantNothingIsLostAndNothingPaidTwice(@TempDir Path folder) throws Exception {
        Random random = new Random(SEED);
        Path data = Files.createDirectories(folder.resolve("data"));
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"))) {
            standins.fares().beSlow(30);
            int booking = 0;
            for (int round = 0; round < ROUNDS; round++) {
                Process process = start(data, standins);
                Thread listener = listen(process);
                PrintStream in = new PrintStream(process.getOutputStream(), true, StandardCharsets.UTF_8);
                int before = acknowledged.size();
                int more = 12;
                for (int i = 0; i < more; i++) {
                    in.println("SK-64%04d".formatted(booking++));
                }
                int until = before + random.nextInt(more);
                Household.await(
                        "the service to acknowledge some (seed " + SEED + ", see " + data + ")",
                        () -> acknowledged.size() > until || !process.isAlive());
                assertThat(process.isAlive())
                        .as("it runs, seed %d; it said: %s", SEED, said)
                        .isTrue();
                TimeUnit.MILLISECONDS.sleep(random.nextInt(60)); // the instant of the kill is what is being tried
                process.destroyForcibly().waitFor();
                listener.join();
                holds(data, standins, round);
            }
            standins.fares().beSlow(0);
            Process process = start(data, standins);
            Thread listener = listen(process);
            Household.await(
                    "every acknowledged case to be paid (seed " + SEED + ")",
                    () -> paid(standins).keySet().containsAll(acknowledged.values()));
            process.getOutputStream().close();
            assertThat(process.waitFor(PATIENCE, TimeUnit.SECONDS)).isTrue();
            listener.join();
            holds(data, standins, ROUNDS);
        }
    }

    private static Map<String, Long> paid(Standins standins) {
        return standins.fares().refunds().stream()
                .collect(
                        Collectors.groupingBy(refund -> refund.path("reference").asString(), Collectors.counting()));
    }

    private void holds(Path data, Standins standins, int round) throws SQLException {
        String when = "round " + round + ", seed " + SEED;
        assertThat(paid(standins).values())
                .as("each booking is paid once, %s", when)
                .allMatch(times -> times == 1);
        try (Connection database = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "");
                Statement statement = database.createStatement()) {
            for (Map.Entry<String, String> one : acknowledged.entrySet()) {
                assertThat(count(
                                statement,
                                "select count(*) from case_record where id = '" + one.getKey() + "' and subject = '"
                                        + one.getValue() + "'"))
                        .as("%s is there, %s", one, when)
                        .isEqualTo(1);
            }
            for (String indexed : new String[] {
                "trail where case_id >= ''",
                "command where state >= ''",
                "run where status >= ''",
                "run where case_id >= ''"
            }) {
                assertThat(count(statement, "select count(*) from " + indexed))
                        .as("index and table agree: %s, %s", indexed, when)
                        .isEqualTo(count(statement, "select count(*) from " + indexed.split(" ")[0]));
            }
            Set<String> sent = new HashSet<>();
            Set<String> opened = new HashSet<>();
            verify(statement, when, sent, opened);
            assertThat(opened).as("acknowledged cases on the trail, %s", when).containsAll(acknowledged.keySet());
            assertThat(sent)
                    .as("every payment is on the trail as sent, %s", when)
                    .containsAll(standins.fares().refunds().stream()
                            .map(refund -> refund.path("key").asString())
                            .toList());
        }
    }

    /** Checks the chain, and gathers the keys of calls that were sent and the cases that were opened. */
    private static void verify(Statement statement, String when, Set<String> sent, Set<String> opened)
            throws SQLException {
        Verifier verifier = new Verifier();
        try (ResultSet all = statement.executeQuery(
                "select t.*, d.salt, d.data from trail t join trail_data d on d.seq = t.seq order by t.seq")) {
            while (all.next()) {
                TrailEntry entry = new TrailEntry(
                        all.getLong("seq"),
                        all.getObject("at", java.time.OffsetDateTime.class).toInstant(),
                        all.getString("actor"),
                        all.getString("case_id"),
                        all.getString("run_id"),
                        all.getString("step"),
                        all.getString("what"),
                        all.getString("digest"),
                        all.getString("previous"),
                        all.getString("hash"));
                JsonNode value = Json.read(all.getString("data"), JsonNode.class);
                assertThat(verifier.next(new RecordedEntry(entry, all.getString("salt"), value)))
                        .as("the trail holds, %s", when)
                        .isEmpty();
                if (entry.what().equals("call-sent")) {
                    sent.add(value.path("key").asString());
                } else if (entry.what().equals("case-opened")) {
                    opened.add(entry.caseId());
                }
            }
        }
        assertThat(verifier.verified())
                .as("the head is the last entry, %s", when)
                .isEqualTo(count(statement, "select seq from trail_head"));
    }

    private static long count(Statement statement, String sql) throws SQLException {
        try (ResultSet result = statement.executeQuery(sql)) {
            result.next();
            return result.getLong(1);
        }
    }
}
