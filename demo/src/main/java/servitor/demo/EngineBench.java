package servitor.demo;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import org.apache.ibatis.session.SqlSessionFactory;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.Via;
import servitor.service.Precondition;
import servitor.service.approvals.ApprovalRow;
import servitor.service.approvals.ApprovalStore;
import servitor.service.approvals.Approvals;
import servitor.service.approvals.Approvals.Decision;
import servitor.service.cases.Cases;
import servitor.service.connections.Connections;
import servitor.service.ledger.LedgerTransaction.Changed;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;
import servitor.service.people.Role;
import servitor.service.runs.WorkStore;
import servitor.standins.Standins;

/**
 * The engine without the web: finished refund runs per second with models and tools that answer at once, beside the same
 * rows written by plain JDBC in groups of the same size, made durable in the same way, in the same run. And how long it
 * takes from an approval's answer to the command that follows from it.
 */
public final class EngineBench {
    private static final int CLIENTS = 32;
    /** How many runs are under way at once. */
    private static final int IN_HAND = 400;

    private static final int AT_ONCE = 32;
    private static final int MOST_ROUNDS = 10;
    private static final double STEADY = 0.05;
    private static final double COMPILING = 0.1;
    private static final int TOLD = 12;
    private static final Person OSEI =
            new Person("osei", "Osei", "", "", Set.of(Role.APPROVER), Set.of("passengers"), Set.of("duty-managers"));
    /** Tables in an order in which their rows can be written. */
    private static final List<String> TABLES = List.of(
            "case_record",
            "case_text",
            "run",
            "command",
            "command_payload",
            "approval",
            "approval_shown",
            "approval_answer",
            "note",
            "trail",
            "trail_data",
            "material",
            "request_key");

    private EngineBench() {}

    /** What one round of runs came to. */
    private record Round(double runsPerSecond, int commits, Map<String, Double> seconds, Map<String, Long> statements) {
        double processorSeconds() {
            return seconds.values().stream().mapToDouble(one -> one).sum();
        }
    }

    public static void main(String[] args) throws Exception {
        int runs = args.length > 0 ? Integer.parseInt(args[0]) : 2_000;
        Path folder = Files.createTempDirectory("servitor-engine-");
        Path data = Files.createDirectories(folder.resolve("data"));
        AtomicInteger groups = new AtomicInteger();
        Statements statements = new Statements();
        List<Long> toCommand = new ArrayList<>();
        List<Round> rounds = new ArrayList<>();
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"))) {
            ConfigurableApplicationContext context = SmallService.start(
                    data,
                    Path.of("demo/handbook"),
                    standins.fares().url().toString(),
                    standins.models().url().toString());
            for (String connection : List.of("fares", "models")) {
                context.getBean(Connections.class)
                        .put(
                                connection,
                                new Connections.Settings(null, AT_ONCE, null, null),
                                "admin",
                                Precondition.NONE);
            }
            context.getBeansOfType(SqlSessionFactory.class)
                    .values()
                    .forEach(factory -> factory.getConfiguration().addInterceptor(statements));
            context.getBean(Writer.class).onCommit(changes -> groups.incrementAndGet());
            while (!steady(rounds)) {
                toCommand.clear();
                statements.clear();
                int before = groups.get();
                Map<String, Double> started = ThreadTime.byGroup();
                double reached = play(context, rounds.size() * runs, runs, toCommand);
                Map<String, Double> used = ThreadTime.byGroup();
                started.forEach((group, seconds) -> used.merge(group, -seconds, Double::sum));
                rounds.add(new Round(reached, groups.get() - before, used, statements.counted()));
                System.out.printf("round %d: %8.1f runs a second%n", rounds.size(), reached);
            }
            context.close();
        }
        Round last = rounds.get(rounds.size() - 1);
        tell(last, runs, floor(folder, data, last.commits(), runs, runs * rounds.size()), toCommand);
        System.exit(0);
    }

    /**
     * Whether two rounds after each other differ by less than a twentieth, and the compiler takes less than a tenth of the
     * processor; at the latest after ten.
     */
    private static boolean steady(List<Round> rounds) {
        int count = rounds.size();
        if (count < MOST_ROUNDS && count >= 3) {
            double one = rounds.get(count - 2).runsPerSecond();
            Round last = rounds.get(count - 1);
            return Math.abs(one - last.runsPerSecond()) < STEADY * last.runsPerSecond()
                    && last.seconds().getOrDefault("compiler", 0.0) < COMPILING * last.processorSeconds();
        }
        return count >= MOST_ROUNDS;
    }

    private static void tell(Round last, int runs, Floor floor, List<Long> toCommand) {
        Object[] sorted = toCommand.stream().sorted().toArray();
        System.out.printf(
                "finished refund runs:            %8.1f/s (%d runs, %d commits)%n",
                last.runsPerSecond(), runs, last.commits());
        System.out.printf(
                "the same rows by plain JDBC:     %8.1f/s (%.1f rows a run, %.1f a commit)%n",
                floor.runsPerSecond(), floor.rowsPerRun(), floor.rowsPerRun() * runs / last.commits());
        System.out.printf("ratio:                           %8.2f%n", last.runsPerSecond() / floor.runsPerSecond());
        System.out.printf(
                "approval's answer to command, ms:  p50 %.1f, p99 %.1f%n",
                (Long) sorted[sorted.length / 2] / 1e6, (Long) sorted[sorted.length * 99 / 100] / 1e6);
        System.out.printf("processor time a run:            %8.2f ms%n", last.processorSeconds() * 1000 / runs);
        last.seconds().entrySet().stream()
                .sorted(Map.Entry.<String, Double>comparingByValue().reversed())
                .limit(TOLD)
                .forEach(one -> System.out.printf("  %-30s %8.2f ms%n", one.getKey(), one.getValue() * 1000 / runs));
        System.out.printf(
                "statements of the writer a run:  %8.1f%n",
                (double) last.statements().values().stream()
                                .mapToLong(one -> one)
                                .sum()
                        / runs);
        last.statements().entrySet().stream()
                .sorted(Map.Entry.<String, Long>comparingByValue().reversed())
                .limit(TOLD * 2)
                .forEach(one -> System.out.printf("  %-30s %8.2f%n", one.getKey(), (double) one.getValue() / runs));
    }

    private static double play(ConfigurableApplicationContext context, int from, int runs, List<Long> toCommand)
            throws InterruptedException {
        Cases cases = context.getBean(Cases.class);
        ApprovalStore approvalStore = context.getBean(ApprovalStore.class);
        WorkStore workStore = context.getBean(WorkStore.class);

        Approvals approvals = context.getBean(Approvals.class);
        ExecutorService clients = Executors.newFixedThreadPool(CLIENTS);
        ConcurrentLinkedQueue<String> opened = new ConcurrentLinkedQueue<>();
        Set<String> seen = ConcurrentHashMap.newKeySet();
        Set<String> mine = ConcurrentHashMap.newKeySet();
        context.getBean(Writer.class).onCommit(changes -> {
            for (Changed change : changes) {
                if (change.what().equals("approval") && seen.add(change.id())) {
                    opened.add(change.id());
                }
            }
        });
        long start = System.nanoTime();
        AtomicLong finished = new AtomicLong();
        Semaphore inHand = new Semaphore(IN_HAND);
        Thread opening = new Thread(() -> {
            for (int i = from; i < from + runs; i++) {
                inHand.acquireUninterruptibly();
                String booking = "SK-6%05d".formatted(i);
                clients.execute(() -> mine.add(SmallService.open(cases, booking)));
            }
        });
        opening.start();
        while (finished.get() < runs) {
            String id = opened.poll();
            if (id == null) {
                TimeUnit.MICROSECONDS.sleep(200);
                continue;
            }
            clients.execute(() -> {
                ApprovalRow row = approvalStore.find(id).orElseThrow();
                long answered = System.nanoTime();
                approvals.answer(OSEI, id, new Decision(Says.APPROVE, row.digest(), "", Map.of(), null, Via.CONSOLE));
                synchronized (toCommand) {
                    toCommand.add(System.nanoTime() - answered); // acknowledged with the command that follows in it
                }
                finished.incrementAndGet();
                inHand.release();
            });
        }
        while (workStore.nextDue(Instant.EPOCH).isPresent()) {
            TimeUnit.MILLISECONDS.sleep(1);
        }
        clients.shutdown();
        return runs / ((System.nanoTime() - start) / 1e9);
    }

    private record Floor(double runsPerSecond, double rowsPerRun) {}

    /** Writes the rows of all runs again, in as many groups, each made durable. */
    private static Floor floor(Path folder, Path data, int groups, int runs, int allRuns) throws SQLException {
        try (Connection from = DriverManager.getConnection("jdbc:h2:" + data.resolve("ledger"), "sa", "");
                Connection to = DriverManager.getConnection("jdbc:h2:async:" + folder.resolve("floor"), "sa", "");
                Statement write = to.createStatement()) {
            List<PreparedStatement> inserts = new ArrayList<>();
            List<Object[]> rows = new ArrayList<>();
            List<Integer> tableOf = new ArrayList<>();
            for (int table = 0; table < TABLES.size(); table++) {
                read(from, to, TABLES.get(table), table, inserts, rows, tableOf);
            }
            to.setAutoCommit(false);
            int allGroups = (int) ((long) groups * allRuns / runs);
            int each = Math.max(1, rows.size() / allGroups);
            List<Integer> order = spread(tableOf);
            long start = System.nanoTime();
            int written = 0;
            for (int at : order) {
                PreparedStatement insert = inserts.get(tableOf.get(at));
                Object[] row = rows.get(at);
                for (int i = 0; i < row.length; i++) {
                    insert.setObject(i + 1, row[i]);
                }
                insert.executeUpdate();
                if (++written % each == 0) {
                    to.commit();
                    write.execute("checkpoint");
                }
            }
            to.commit();
            write.execute("checkpoint");
            double seconds = (System.nanoTime() - start) / 1e9;
            return new Floor(allRuns / seconds, (double) rows.size() / allRuns);
        }
    }

    /** Rows of all tables in turn, as runs write them, rather than table by table. */
    private static List<Integer> spread(List<Integer> tableOf) {
        List<List<Integer>> byTable = new ArrayList<>();
        TABLES.forEach(table -> byTable.add(new ArrayList<>()));
        for (int i = 0; i < tableOf.size(); i++) {
            byTable.get(tableOf.get(i)).add(i);
        }
        List<Integer> order = new ArrayList<>();
        int[] next = new int[TABLES.size()];
        while (order.size() < tableOf.size()) {
            for (int table = 0; table < TABLES.size(); table++) {
                int share = Math.max(1, byTable.get(table).size() / 100);
                for (int i = 0; i < share && next[table] < byTable.get(table).size(); i++) {
                    order.add(byTable.get(table).get(next[table]++));
                }
            }
        }
        return order;
    }

    private static void read(
            Connection from,
            Connection to,
            String table,
            int number,
            List<PreparedStatement> inserts,
            List<Object[]> rows,
            List<Integer> tableOf)
            throws SQLException {
        try (Statement read = from.createStatement();
                Statement make = to.createStatement();
                ResultSet all = read.executeQuery("select * from " + table)) {
            ResultSetMetaData columns = all.getMetaData();
            List<String> names = new ArrayList<>();
            for (int i = 1; i <= columns.getColumnCount(); i++) {
                String type = columns.getColumnTypeName(i);
                boolean sized = type.startsWith("CHARACTER");
                names.add(columns.getColumnName(i) + " " + (sized ? "varchar(1000000)" : type)
                        + (i == 1 && !table.equals("approval_answer") && !table.equals("request_key")
                                ? " primary key"
                                : ""));
            }
            make.execute("create table " + table + " (" + String.join(", ", names) + ")");
            String marks = String.join(", ", java.util.Collections.nCopies(names.size(), "?"));
            inserts.add(to.prepareStatement("insert into " + table + " values (" + marks + ")"));
            while (all.next()) {
                Object[] row = new Object[names.size()];
                Arrays.setAll(row, i -> value(all, i + 1));
                rows.add(row);
                tableOf.add(number);
            }
        }
    }

    private static Object value(ResultSet row, int column) {
        try {
            return row.getObject(column);
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }
}
