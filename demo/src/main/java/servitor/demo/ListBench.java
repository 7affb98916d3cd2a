package servitor.demo;

import com.sun.management.ThreadMXBean;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.util.FileSystemUtils;
import servitor.service.people.People;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.ObjectMapper;

/**
 * Measures what lists and pages of the API cost at 100,000 cases with runs, approvals and trail of their own: the demo's ninety days,
 * copied as often as it takes. Each request is timed by the processor time of all threads of the process, the client's included,
 * and beside the cheapest answer there is.
 */
public final class ListBench {
    private static final int WARM = 60;
    private static final int TIMES = 100;
    private static final double AIM_MS = 50;

    private static final Map<String, List<String>> ASKED = new TreeMap<>(Map.of(
            "osei",
            List.of(
                    "/api/cases",
                    "/api/cases?state=waiting",
                    "/api/cases?state=resolved&kind=complaint",
                    "/api/cases?requester=ines",
                    "/api/cases?page=answer-in-writing",
                    "/api/cases?agent=purser&since=2026-01-01",
                    "/api/cases?waiting-for=duty",
                    "/api/cases?waiting-for=nothing-at-all",
                    "/api/cases?cursor=50000000",
                    "/api/cases?q=refund",
                    "/api/cases?q=varra%20sailing%20cancelled",
                    "/api/cases?q=heating&state=resolved",
                    "/api/cases?q=nowhere-to-be-found",
                    "/api/approvals",
                    "/api/approvals?state=closed",
                    "/api/approvals?state=closed&agent=purser",
                    "/api/approvals?asked=true",
                    "/api/runs",
                    "/api/runs?status=failed",
                    "/api/runs?agent=purser&status=finished",
                    "/api/today",
                    "/api/trail?case=C-1040",
                    "/api/cases/C-1040",
                    "/api/cases/C-1040/lanes",
                    "/api/stops"),
            "ines",
            List.of("/api/cases", "/api/cases?q=sailing", "/api/approvals", "/api/today"),
            "maren",
            List.of(
                    "/api/trail",
                    "/api/trail?what=verdict",
                    "/api/runs?page=cancelled-sailing-refund",
                    "/api/handbook/editions",
                    "/api/mandates/table")));

    private static final ThreadMXBean THREADS = (ThreadMXBean) ManagementFactory.getThreadMXBean();

    private ListBench() {}

    public static void main(String[] args) throws Exception {
        int cases = args.length > 0 ? Integer.parseInt(args[0]) : 100_000;
        Path data = Path.of("demo/target/lists-" + cases).toAbsolutePath();
        if (!Files.exists(data.resolve("ready"))) {
            make(data, cases);
        }
        try (ConfigurableApplicationContext service = WholeService.start(data.toAbsolutePath(), Clock.systemUTC())) {
            measure(service);
        }
        System.exit(0);
    }

    private static void make(Path data, int cases) throws IOException, InterruptedException, SQLException {
        FileSystemUtils.deleteRecursively(data);
        Files.createDirectories(data);
        PastProcess.play(data, Path.of("demo/handbook"), 90);
        try (Connection database =
                        DriverManager.getConnection("jdbc:h2:" + data.toAbsolutePath() + "/ledger", "sa", "");
                Statement sql = database.createStatement()) {
            int there;
            try (ResultSet counted = sql.executeQuery("select count(*) from case_record")) {
                counted.next();
                there = counted.getInt(1);
            }
            int copies = (cases - there) / there;
            System.out.println("Copying " + there + " cases " + copies + " times; this takes a few minutes, once.");
            database.setAutoCommit(false);
            for (int copy = 1; copy <= copies; copy++) {
                copy(sql, copy);
                database.commit();
            }
            sql.execute("analyze");
        }
        Files.createFile(data.resolve("ready"));
    }

    /** One more of everything, somewhat older, under ids of its own. The trail's copies stand behind its end, and are in no chain. */
    private static void copy(Statement sql, int copy) throws SQLException {
        String id = "||'x" + copy + "'";
        String ago = " - interval '" + copy + "' hour";
        long far = copy * 100_000L;
        sql.execute(copied(
                sql,
                "case_record",
                Map.of(
                        "ID",
                        "id" + id,
                        "NUMBER",
                        "number + " + far,
                        "DUE_UNSEEN",
                        "null",
                        "CREATED",
                        "created" + ago,
                        "UPDATED",
                        "updated" + ago)));
        sql.execute(copied(sql, "case_text", Map.of("CASE_ID", "case_id" + id)));
        sql.execute(copied(
                sql,
                "run",
                Map.of(
                        "ID",
                        "id" + id,
                        "CASE_ID",
                        "case_id" + id,
                        "CREATED",
                        "created" + ago,
                        "UPDATED",
                        "updated" + ago,
                        "PARENT",
                        "case when parent = '' then '' else parent" + id + " end")));
        sql.execute(copied(
                sql,
                "approval",
                Map.of(
                        "ID",
                        "id" + id,
                        "RUN_ID",
                        "run_id" + id,
                        "CASE_ID",
                        "case_id" + id,
                        "OPENED",
                        "opened" + ago,
                        "CLOSED",
                        "closed" + ago,
                        "DUE",
                        "case when state = 'open' then null else due end",
                        "REMIND_AT",
                        "null")));
        sql.execute(copied(sql, "approval_shown", Map.of("APPROVAL_ID", "approval_id" + id)));
        sql.execute(copied(sql, "approval_asked", Map.of("APPROVAL_ID", "approval_id" + id)));
        sql.execute("insert into trail select seq + " + far * 1_000 + ", at" + ago
                + ", actor, case when case_id = '' then '' else case_id" + id
                + " end, run_id, step, what, digest, previous, hash from trail where seq < 100000");
        sql.execute("insert into trail_data select seq + " + far * 1_000
                + ", salt, data from trail_data where seq < 100000");
    }

    /** Copies the rows that are no copies themselves, with some columns made anew. */
    private static String copied(Statement sql, String table, Map<String, String> made) throws SQLException {
        StringBuilder columns = new StringBuilder();
        StringBuilder values = new StringBuilder();
        try (ResultSet all = sql.executeQuery("select column_name from information_schema.columns where table_name = '"
                + table.toUpperCase(Locale.ROOT) + "' order by ordinal_position")) {
            while (all.next()) {
                String column = all.getString(1);
                columns.append(columns.isEmpty() ? "" : ", ").append(column);
                values.append(values.isEmpty() ? "" : ", ").append(made.getOrDefault(column, column));
            }
        }
        String key = made.containsKey("ID") ? "id" : made.keySet().iterator().next();
        return "insert into " + table + " (" + columns + ") select " + values + " from " + table + " where " + key
                + " not like '%x%'";
    }

    private static void measure(ConfigurableApplicationContext service) throws IOException, InterruptedException {
        URI url = WholeService.url(service);
        HttpClient client = HttpClient.newHttpClient();
        double floor = 0;
        boolean met = true;
        System.out.println("who    median    95 %    items   request");
        for (Map.Entry<String, List<String>> who : ASKED.entrySet()) {
            String token = service.getBean(People.class).newToken(who.getKey(), "bench", "admin");
            for (String path : Stream.concat(Stream.of("/api/session"), who.getValue().stream())
                    .toList()) {
                double[] times = times(client, url.resolve(path), token);
                double late = times[(int) (times.length * 0.95)];
                floor = path.equals("/api/session") && floor == 0 ? times[times.length / 2] : floor;
                met &= late <= AIM_MS;
                System.out.printf(
                        "%-6s %6.1f %7.1f ms %6d   %s%n",
                        who.getKey(), times[times.length / 2], late, items(client, url.resolve(path), token), path);
            }
        }
        System.out.printf(
                "Floor (/api/session): %.1f ms. %s%n",
                floor, met ? "Every 95 % is within " + AIM_MS + " ms." : "NOT every 95 % is within " + AIM_MS + " ms.");
    }

    private static double[] times(HttpClient client, URI url, String token) throws IOException, InterruptedException {
        for (int i = 0; i < WARM; i++) {
            ask(client, url, token);
        }
        double[] times = new double[TIMES];
        for (int i = 0; i < TIMES; i++) {
            long before = used();
            ask(client, url, token);
            times[i] = (used() - before) / 1e6;
        }
        Arrays.sort(times);
        return times;
    }

    private static String ask(HttpClient client, URI url, String token) throws IOException, InterruptedException {
        var answer = client.send(
                HttpRequest.newBuilder(url)
                        .header("Authorization", "Bearer " + token)
                        .build(),
                BodyHandlers.ofString());
        if (answer.statusCode() != 200) {
            throw new IllegalStateException(url + " answered " + answer.statusCode() + ": " + answer.body());
        }
        return answer.body();
    }

    private static int items(HttpClient client, URI url, String token) throws IOException, InterruptedException {
        JsonNode body = new ObjectMapper().readTree(ask(client, url, token));
        return body.has("items") ? body.get("items").size() : body.size();
    }

    /** Nanoseconds of the processor that the threads of this process have used; those of the Java machine itself are left out. */
    private static long used() {
        return Arrays.stream(THREADS.getThreadCpuTime(THREADS.getAllThreadIds()))
                .filter(time -> time > 0)
                .sum();
    }
}
