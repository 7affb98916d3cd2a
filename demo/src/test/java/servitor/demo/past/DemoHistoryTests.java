package servitor.demo.past;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.demo.past.DemoHistory.Played;
import servitor.demo.past.Script.Asked;

class DemoHistoryTests {
    private static final int DAYS = 5;

    @Test
    void aPastLeavesWhatTheServiceWouldHaveLeft(@TempDir Path folder) throws Exception {
        Path data = Files.createDirectories(folder.resolve("data"));
        Instant before = Instant.now();
        Played played =
                DemoHistory.play(data, Path.of("handbook"), DAYS, new PrintStream(PrintStream.nullOutputStream()));
        assertThat(played.cases()).isGreaterThan(20);
        assertThat(played.states()).containsKeys("resolved", "waiting");
        try (Connection ledger = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "")) {
            assertThat(one(ledger, "select count(*) from trail")).isEqualTo(played.entries());
            assertThat(one(ledger, "select count(*) from command where state = 'taken'"))
                    .as("calls left half done")
                    .isZero();
            assertThat(one(ledger, "select count(*) from approval where state = 'open'"))
                    .as("something is left to do today")
                    .isPositive();
            assertThat(one(ledger, "select count(distinct actor) from trail where what = 'approval-answered'"))
                    .as("several people answer")
                    .isGreaterThan(2);
            assertThat(one(ledger, "select count(distinct proof) from case_record where channel = 'mail'"))
                    .as("some mails are proven, some aren't")
                    .isEqualTo(2);
            assertThat(at(ledger, "select min(at) from trail")).isBefore(before.minus(Duration.ofDays(DAYS - 1)));
            assertThat(at(ledger, "select max(at) from trail")).isBefore(before);
        }
        assertThat(Files.readAllLines(data.resolve("standins/refunds.jsonl"))).isNotEmpty();
    }

    @Test
    void theScriptIsTheSameEachTimeAndInOrder() {
        Instant start = Instant.parse("2026-08-26T05:00:00Z");
        Instant end = start.plus(Duration.ofDays(90));
        Script script = new Script(start, 90, end, new SplittableRandom(1));
        assertThat(script.asked())
                .isEqualTo(new Script(start, 90, end, new SplittableRandom(1)).asked())
                .hasSizeBetween(360, 480)
                .isSortedAccordingTo(java.util.Comparator.comparing(Asked::at));
        assertThat(script.asked().stream().map(Asked::kind).collect(Collectors.toSet()))
                .hasSize(7);
    }

    private static long one(Connection ledger, String sql) throws SQLException {
        try (Statement statement = ledger.createStatement();
                ResultSet row = statement.executeQuery(sql)) {
            row.next();
            return row.getLong(1);
        }
    }

    private static Instant at(Connection ledger, String sql) throws SQLException {
        try (Statement statement = ledger.createStatement();
                ResultSet row = statement.executeQuery(sql)) {
            row.next();
            return row.getObject(1, OffsetDateTime.class).toInstant();
        }
    }
}
