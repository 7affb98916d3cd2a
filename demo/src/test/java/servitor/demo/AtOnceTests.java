package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.DriverManager;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.util.FileSystemUtils;
import servitor.service.approvals.ApprovalStore;
import servitor.service.cases.Cases;
import servitor.service.people.Person;
import servitor.service.people.Role;
import servitor.service.runs.CommandRow;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunSteering;
import servitor.service.runs.RunStore;
import servitor.service.runs.TroubleStore;
import servitor.service.runs.WorkStore;
import servitor.standins.Standins;

/** Many runs that want the same at the same moment. */
class AtOnceTests {
    private static final int RUNS = 32;
    private static final BigDecimal LIMIT = new BigDecimal("999.99");

    /** The demo's handbook, with a limit on what the purser pays alone, for ever. */
    private static Path handbook(Path folder) throws Exception {
        Path handbook = folder.resolve("handbook");
        FileSystemUtils.copyRecursively(Path.of("handbook"), handbook);
        Path mandate = handbook.resolve("mandates/purser.yaml");
        String text = Files.readString(mandate);
        String limited = text.replace(
                "{ at-most: 1, per: [case] }", "{ sum: args.amount, at-most: " + LIMIT + ", per: [agent] }");
        assertThat(limited).isNotEqualTo(text);
        Files.writeString(mandate, limited);
        return handbook;
    }

    /** What was paid, by the booking it was paid for. */
    private static Map<String, BigDecimal> paid(Standins standins) {
        return standins.fares().refunds().stream()
                .collect(Collectors.toMap(
                        refund -> refund.path("reference").asString(),
                        refund -> refund.path("amount").decimalValue()));
    }

    /** What the fares system says was once paid for a booking made up for load. */
    private static BigDecimal fare(String booking) {
        return BigDecimal.valueOf(20 + Integer.parseInt(booking.substring(4)) % 80);
    }

    @Test
    void aSumIsNeverPassedByACentHoweverManyWantItAtOnce(@TempDir Path folder) throws Exception {
        ExecutorService people = Executors.newFixedThreadPool(RUNS);
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext context = SmallService.start(
                        Files.createDirectories(folder.resolve("data")),
                        handbook(folder),
                        standins.fares().url().toString(),
                        standins.models().url().toString())) {
            Cases cases = context.getBean(Cases.class);
            ApprovalStore approvalStore = context.getBean(ApprovalStore.class);
            RunStore runStore = context.getBean(RunStore.class);
            TroubleStore troubleStore = context.getBean(TroubleStore.class);

            List<String> bookings =
                    IntStream.range(0, RUNS).mapToObj("SK-6310%02d"::formatted).toList();
            CountDownLatch together = new CountDownLatch(1);
            Map<String, Future<String>> opened = bookings.stream()
                    .collect(Collectors.toMap(
                            booking -> booking,
                            booking -> people.submit(() -> {
                                together.await();
                                return SmallService.open(cases, booking);
                            })));
            together.countDown();

            for (String booking : bookings) {
                String id = opened.get(booking).get();
                Household.await(
                        booking + " to be paid or asked about",
                        () -> paid(standins).containsKey(booking)
                                || !approvalStore
                                        .ofRun(runStore.ofCase(id).get(0).id())
                                        .isEmpty());
            }

            BigDecimal sum = paid(standins).values().stream().reduce(BigDecimal.ZERO, BigDecimal::add);
            assertThat(sum).isLessThanOrEqualTo(LIMIT);
            assertThat(bookings)
                    .filteredOn(booking -> !paid(standins).containsKey(booking))
                    .as("whatever was asked about would have passed it")
                    .isNotEmpty()
                    .allSatisfy(booking -> assertThat(sum.add(fare(booking))).isGreaterThan(LIMIT));
        } finally {
            people.shutdownNow();
        }
    }

    @Test
    void aServiceThatIsStoppedInTheMiddleOfWorkFinishesWhatItHasTaken(@TempDir Path folder) throws Exception {
        Path data = Files.createDirectories(folder.resolve("data"));
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"))) {
            for (int round = 0; round < 5; round++) {
                try (ConfigurableApplicationContext context = start(data, standins)) {
                    for (int i = 0; i < RUNS / 4; i++) {
                        SmallService.open(context.getBean(Cases.class), "SK-6320%d%d".formatted(round, i));
                    }
                }
                try (var database = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "");
                        var statement = database.createStatement();
                        var taken = statement.executeQuery("select count(*) from command where state = 'taken'")) {
                    taken.next();
                    assertThat(taken.getInt(1))
                            .as("work that nobody would know of whether it was sent, in round %d", round)
                            .isZero();
                }
            }
        }
    }

    @Test
    void workThatCannotBeReadGoesToPeopleAndHoldsUpNobody(@TempDir Path folder) throws Exception {
        Path data = Files.createDirectories(folder.resolve("data"));
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"))) {
            standins.fares().fail(true);
            String unreadable;
            String other;
            try (ConfigurableApplicationContext context = start(data, standins)) {
                unreadable = SmallService.open(context.getBean(Cases.class), "SK-633001");
                other = SmallService.open(context.getBean(Cases.class), "SK-633002");
            }
            standins.fares().fail(false);
            try (var database = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "");
                    var spoil = database.prepareStatement(
                            "update command_payload set payload = '{\"cut' where command_id in (select id from command "
                                    + "where state = 'pending' and run_id in (select id from run where case_id = ?))")) {
                spoil.setString(1, unreadable);
                assertThat(spoil.executeUpdate()).isPositive();
            }
            try (ConfigurableApplicationContext context = start(data, standins)) {
                ApprovalStore approvalStore = context.getBean(ApprovalStore.class);
                RunStore runStore = context.getBean(RunStore.class);
                TroubleStore troubleStore = context.getBean(TroubleStore.class);

                Household.await("the other to be paid", () -> paid(standins).containsKey("SK-633002"));
                Household.await(
                        "people to be told",
                        () -> troubleStore.open(10).stream()
                                .anyMatch(wrong -> wrong.caseId().equals(unreadable)));
                assertThat(troubleStore.open(10))
                        .noneMatch(wrong -> wrong.caseId().equals(other));

                RunRow run = runStore.ofCase(unreadable).get(0);
                Person maren =
                        new Person("maren", "Maren", "", "", Set.of(Role.ENGINEER), Set.of("passengers"), Set.of());
                context.getBean(RunSteering.class)
                        .steer(
                                maren,
                                run,
                                (control, store) -> control.stop(store, run.id(), "maren", "It can't go on."));
                assertThat(context.getBean(WorkStore.class).ofRun(run.id()))
                        .extracting(CommandRow::state)
                        .as("nothing of it waits any more, what can't be read included")
                        .isSubsetOf("done", "dropped");
            }
        }
    }

    private static ConfigurableApplicationContext start(Path data, Standins standins) throws Exception {
        return SmallService.start(
                data,
                Path.of("handbook"),
                standins.fares().url().toString(),
                standins.models().url().toString());
    }
}
