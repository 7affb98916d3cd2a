package servitor.demo.past;

import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.logging.LogManager;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.util.FileSystemUtils;
import servitor.cli.client.Client;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.Verifier;
import servitor.demo.DemoSeeder;
import servitor.demo.SimulatedClock;
import servitor.demo.WholeService;
import servitor.demo.past.Script.Asked;
import servitor.service.approvals.ApprovalRow;
import servitor.service.approvals.ApprovalStore;
import servitor.service.approvals.Approvals;
import servitor.service.approvals.AskedByMail;
import servitor.service.cases.CaseFilter;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.dispatch.Dispatcher;
import servitor.service.intake.Acknowledgements;
import servitor.service.ledger.TrailStore;
import servitor.service.ledger.Writer;
import servitor.service.people.People;
import servitor.service.people.Person;
import servitor.service.runs.RunStore;
import servitor.service.runs.WorkStore;
import servitor.standins.Crew;
import servitor.standins.Fares;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/**
 * Plays the past into a folder: the whole service, in this process, on a clock that goes from one thing that happens to the
 * next. What it leaves is what the service would have left, had it run for all that time.
 */
public final class DemoHistory {
    /** The clock stands still while mails are read. */
    private static final Duration LOOKED_AT = Duration.ofMillis(20);

    private static final long SEED = 20_261_124;
    private static final List<String> DESKS = List.of("passengers", "it", "people");

    private final SimulatedClock clock;
    private final Standins standins;
    private final WorkStore workStore;
    private final ApprovalStore approvalStore;
    private final TrailStore trailStore;
    private final CaseStore caseStore;
    private final Cases cases;
    private final WrittenMails mails;
    private final Dispatcher dispatcher;
    private final Map<String, Person> people = new HashMap<>();
    private final Writer writer;
    private final SimulatedPeople hands;
    private final Set<String> touched = ConcurrentHashMap.newKeySet();

    /**
     * What was played.
     *
     * @param states how many cases stand where
     */
    public record Played(int cases, Map<String, Integer> states, long entries) {}

    private DemoHistory(ConfigurableApplicationContext context, SimulatedClock clock, Standins standins) {
        this.clock = clock;
        this.standins = standins;
        this.workStore = context.getBean(WorkStore.class);
        this.approvalStore = context.getBean(ApprovalStore.class);
        this.trailStore = context.getBean(TrailStore.class);
        this.caseStore = context.getBean(CaseStore.class);
        this.cases = context.getBean(Cases.class);
        this.mails = new WrittenMails(standins.mail(), caseStore);
        this.dispatcher = context.getBean(Dispatcher.class);
        this.hands = new SimulatedPeople(
                context.getBean(ApprovalStore.class),
                context.getBean(RunStore.class),
                context.getBean(CaseStore.class),
                context.getBean(Approvals.class),
                cases,
                mails,
                people,
                new SplittableRandom(SEED + 1));
        this.writer = context.getBean(Writer.class);
        writer.onCommit(changes -> changes.stream()
                .filter(change -> change.what().equals("case"))
                .forEach(change -> touched.add(change.id())));
    }

    /** {@code DemoHistory DATA HANDBOOK DAYS}: plays it, telling on the error stream how far it is. */
    public static void main(String[] args) throws Exception {
        LogManager.getLogManager().reset(); // the stand-ins' libraries tell of every start
        Played played = play(Path.of(args[0]), Path.of(args[1]), Integer.parseInt(args[2]), System.err);
        System.err.println(
                "  " + played.cases() + " cases, " + played.entries() + " trail entries: " + played.states());
        System.exit(0);
    }

    /** Plays {@code days} days that end a quarter of an hour ago, into a folder that holds nothing yet. */
    static Played play(Path data, Path handbook, int days, PrintStream told) throws IOException, InterruptedException {
        Instant end = Instant.now().minus(15, ChronoUnit.MINUTES);
        Instant start = end.atZone(Script.ZONE)
                .minusDays(days)
                .withHour(6)
                .truncatedTo(ChronoUnit.HOURS)
                .toInstant();
        Script script = new Script(start, days + 1, end, new SplittableRandom(SEED));
        Path outside = Files.createDirectories(data.resolve("standins"));
        Files.writeString(outside.resolve(Fares.MORE), Json.write(script.fares()));
        SimulatedClock clock = new SimulatedClock(start.minus(1, ChronoUnit.HOURS));
        Path profiles = Files.createTempDirectory("servitor-past-");
        Played played;
        try (Standins standins = new Standins(Standins.Ports.ANY, outside);
                ConfigurableApplicationContext context = WholeService.start(data, clock, LOOKED_AT)) {
            URI url = WholeService.url(context);
            new DemoSeeder(url, data, profiles).furnish(handbook, standins);
            addPeople(new Client(DemoSeeder.profileOf(profiles, "admin")));
            DemoHistory past = new DemoHistory(context, clock, standins);
            context.getBean(People.class).all().forEach(person -> past.people.put(person.id(), person));
            past.play(new ArrayDeque<>(script.asked()), start, end, days, told);
            past.mails.awaitAcknowledged(context.getBean(Acknowledgements.class));
            past.mails.awaitTold(context.getBean(AskedByMail.class));
            clock.pass(Duration.between(clock.instant(), end));
            // The first token has run out by now.
            Files.writeString(
                    data.resolve("admin.token"),
                    context.getBean(People.class).newToken("admin", "first start", "system"));
            played = past.played();
        } finally {
            FileSystemUtils.deleteRecursively(profiles);
        }
        compact(data);
        return played;
    }

    /** So many days in a minute leave much air in the file. */
    private static void compact(Path data) {
        try (Connection connection = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "");
                Statement statement = connection.createStatement()) {
            statement.execute("shutdown compact");
        } catch (SQLException e) {
            throw new IllegalStateException("The database of the past can't be compacted", e);
        }
    }

    /** Everybody who isn't of the cast: they only ask. */
    private static void addPeople(Client admin) {
        Passengers.ALL.forEach(one -> add(admin, one.id(), one.name(), one.account(), "", List.of()));
        Crew.ALL
                .subList(5, 12)
                .forEach(one -> add(admin, one.id(), one.name(), one.account(), "dagny", List.of("colleagues")));
    }

    private static void add(Client admin, String id, String name, String account, String manager, List<String> groups) {
        Map<String, Object> details = new LinkedHashMap<>();
        details.put("name", name);
        details.put("email", id + "@skerryline.example");
        details.put("account", account);
        details.put("manager", manager);
        details.put("groups", groups);
        details.put("roles", List.of("requester"));
        admin.put("/api/people/" + id, details);
    }

    private void play(Deque<Asked> script, Instant start, Instant end, int days, PrintStream told)
            throws InterruptedException {
        int day = -1;
        while (true) {
            Instant next = next(script, end);
            if (!next.isBefore(end)) {
                break;
            }
            clock.pass(Duration.between(clock.instant(), next));
            while (hands.next() != null && !hands.next().at().isAfter(next)) {
                hands.doNext();
            }
            while (!script.isEmpty() && !script.peek().at().isAfter(next)) {
                ask(script.remove());
            }
            settle();
            for (String id : List.copyOf(touched)) {
                touched.remove(id);
                if (next.isBefore(end.minus(Script.LAST_HOURS))) {
                    hands.lookAt(id, next);
                }
            }
            int today = (int) ChronoUnit.DAYS.between(start, next);
            if (today / 10 != day / 10 || day < 0) {
                told.println("  day " + today + " of " + days);
                day = today;
            }
        }
    }

    /** When something happens next: somebody asks or does something, or a time of the engine's own has come. */
    private Instant next(Deque<Asked> script, Instant end) {
        Instant now = clock.instant();
        Instant next = end;
        if (!script.isEmpty()) {
            next = earlier(next, script.peek().at());
        }
        if (hands.next() != null) {
            next = earlier(next, hands.next().at());
        }
        next = earlier(next, workStore.nextDue(now).orElse(end));
        next = earlier(next, caseStore.nextDue().orElse(end));
        for (ApprovalRow overdue : approvalStore.overdue(next, 1)) {
            next = earlier(next, Objects.requireNonNull(overdue.due()));
        }
        for (ApprovalRow remind : approvalStore.toRemind(next, 1)) {
            next = earlier(next, Objects.requireNonNull(remind.remindAt()));
        }
        return next.isBefore(now) ? now : next;
    }

    private static Instant earlier(Instant one, Instant other) {
        return other.isBefore(one) ? other : one;
    }

    private void ask(Asked asked) {
        if (asked.locks() != null) {
            standins.directory().lock(asked.locks());
        }
        if (asked.way().isMail()) {
            mails.ask(asked);
            return;
        }
        Map<String, JsonNode> fields = new LinkedHashMap<>();
        asked.fields().forEach((name, value) -> fields.put(name, Json.of(value)));
        cases.open(
                Objects.requireNonNull(people.get(asked.by())),
                new NewCase(asked.kind(), asked.subject(), asked.text(), asked.language(), null, fields),
                null);
    }

    /** Waits until the engine has done all that is due now. Asked again in the writer's turn, when nothing can be half done. */
    private void settle() throws InterruptedException {
        Instant now = clock.instant();
        long until = System.nanoTime() + TimeUnit.MINUTES.toNanos(1);
        dispatcher.lookNow();
        while (isAtWork(now) || writer.write(tx -> isAtWork(now))) {
            if (System.nanoTime() > until) {
                throw new IllegalStateException("The engine doesn't come to rest at " + now + ".");
            }
            TimeUnit.MILLISECONDS.sleep(1);
        }
    }

    private boolean isAtWork(Instant now) {
        return !approvalStore.overdue(now, 1).isEmpty()
                || !approvalStore.toRemind(now, 1).isEmpty()
                || caseStore.nextDue().filter(due -> !due.isAfter(now)).isPresent()
                || workStore.connectionsWaitedFor().stream()
                        .anyMatch(line -> !workStore.due(line, now, 1).isEmpty())
                || !workStore.abandoned(now.plus(1, ChronoUnit.DAYS), 1).isEmpty();
    }

    /** Counts what there is, and makes sure that the trail holds. */
    private Played played() {
        Verifier verifier = new Verifier();
        long at = 0;
        for (List<RecordedEntry> some = trailStore.after(0, 1_000);
                !some.isEmpty();
                some = trailStore.after(at, 1_000)) {
            for (RecordedEntry entry : some) {
                verifier.next(entry).ifPresent(fault -> {
                    throw new IllegalStateException("The past doesn't hold: " + fault);
                });
                at = entry.entry().seq();
            }
        }
        Map<String, Integer> states = new TreeMap<>();
        caseStore
                .list("", DESKS, CaseFilter.ALL, Long.MAX_VALUE, 100_000)
                .forEach(row -> states.merge(row.state(), 1, Integer::sum));
        return new Played(states.values().stream().mapToInt(Integer::intValue).sum(), states, at);
    }
}
