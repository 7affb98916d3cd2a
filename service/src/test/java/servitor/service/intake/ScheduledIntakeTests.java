package servitor.service.intake;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.DemoHandbook;
import servitor.service.editions.Editions;
import servitor.service.ledger.MemoryHouse;
import servitor.service.ledger.Writer;
import servitor.service.people.Role;

/** Schedules by a clock of the test's own; the house's time zone is that of Dublin. */
class ScheduledIntakeTests {
    private static final String ROUND = """
            title: Round
            from: schedule
            cron: "30 6 * * *"
            kind: complaint
            requester: watch
            subject: "Round of ${message.date} at ${message.time}"
            """;

    @TempDir
    private Path data;

    private MemoryHouse house;

    @BeforeEach
    void open() {
        house = new MemoryHouse("schedules", data);
        house.person("watch", Set.of(Role.REQUESTER));
        publish(ROUND);
    }

    @AfterEach
    void close() {
        house.close();
    }

    private void publish(String round) {
        Map<String, String> files = DemoHandbook.files();
        files.put("intake/round.yaml", round);
        house.get(Editions.class).publish(files, "", "admin");
    }

    /** One service's look at a time. */
    private void look(String time) {
        new ScheduledIntake(
                        house.get(Editions.class),
                        house.get(ScheduleStore.class),
                        house.get(EventIntake.class),
                        house.get(Intakes.class),
                        house.get(Writer.class),
                        Clock.fixed(Instant.parse(time), ZoneOffset.UTC))
                .look();
    }

    private long cases() {
        return (Long) house.row("select count(*) as n from case_record where requester = 'watch'")
                .get("N");
    }

    @Test
    void aCaseIsOpenedWhenItsTimeHasComeAndNotBefore() {
        look("2026-06-01T04:00:00Z");
        look("2026-06-01T05:29:59Z");
        assertThat(cases()).isZero();
        look("2026-06-01T05:30:00Z");
        look("2026-06-01T05:30:01Z");
        assertThat(cases()).isEqualTo(1);
        assertThat(house.row("select subject, proof, channel from case_record where requester = 'watch'"))
                .containsEntry("SUBJECT", "Round of 2026-06-01 at 06:30")
                .containsEntry("PROOF", "claimed")
                .containsEntry("CHANNEL", "schedule");
    }

    @Test
    void twoServicesAndOneThatDiedBeforeItNotedThatItFiredOpenOneCase() {
        look("2026-06-01T04:00:00Z");
        look("2026-06-01T05:30:00Z");
        house.change("update schedule set fired = timestamp with time zone '2026-06-01 04:00:00+00:00'");
        look("2026-06-01T05:30:02Z");
        assertThat(cases()).isEqualTo(1);
        assertThat(house.row("select became from outside_event where intake = 'round'"))
                .containsEntry("BECAME", "opened");
    }

    @Test
    void whatWasMissedIsMadeUpFor() {
        look("2026-06-01T04:00:00Z");
        look("2026-06-04T12:00:00Z");
        assertThat(cases()).isEqualTo(4);
        look("2026-06-04T12:00:01Z");
        assertThat(cases()).isEqualTo(4);
    }

    @Test
    void ofMuchThatWasMissedOnlyTheLatestFires() {
        look("2026-06-01T04:00:00Z");
        look("2026-08-01T12:00:00Z");
        assertThat(cases()).isEqualTo(1);
        assertThat(house.row("select subject from case_record where requester = 'watch'"))
                .containsEntry("SUBJECT", "Round of 2026-08-01 at 06:30");
    }

    @Test
    void anotherTimeBeginsAnew() {
        look("2026-06-01T04:00:00Z");
        publish(ROUND.replace("30 6", "0 5"));
        look("2026-06-01T05:15:00Z");
        assertThat(cases()).as("what would have been due before it was said").isZero();
        look("2026-06-02T04:00:00Z");
        assertThat(cases()).isEqualTo(1);
    }
}
