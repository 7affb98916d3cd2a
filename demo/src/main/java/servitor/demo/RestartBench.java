package servitor.demo;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.cli.command.HandbookFolder;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.people.Person;
import servitor.service.people.Role;

/** How long the service takes to start and how much memory it holds, with more and more runs that wait for a reply. */
public final class RestartBench {
    private static final String KIND = "title: A question\ndesk: passengers\n";
    private static final String PAGE = """
            ---
            title: Wait for a word
            desk: passengers
            agent: purser
            starts: [{ on: case-opened, kind: waiting }]
            ---
            ## Wait
            ```step
            await: reply
            within: P30D
            go: { arrived: done, expired: done }
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;
    private static final Person INES =
            new Person("ines", "Ines", "", "P-1042", Set.of(Role.REQUESTER), Set.of(), Set.of());
    private static final Pattern USED = Pattern.compile("used (\\d+)K");

    private RestartBench() {}

    public static void main(String[] args) throws Exception {
        if (args.length == 3 && args[0].equals("fill")) {
            fill(Path.of(args[1]), Integer.parseInt(args[2]));
            System.exit(0);
        }
        int[] counts = args.length == 0
                ? new int[] {0, 10_000, 100_000}
                : java.util.Arrays.stream(args).mapToInt(Integer::parseInt).toArray();
        Path folder = Files.createTempDirectory("servitor-restart-");
        System.out.println("waiting runs  ready in s  heap after a collection, MiB  file, MiB");
        for (int count : counts) {
            Path data = Files.createDirectories(folder.resolve("data" + count));
            run("servitor.demo.RestartBench", "fill", data.toString(), String.valueOf(count))
                    .waitFor();
            List<Double> ready = new ArrayList<>();
            double heap = 0;
            for (int i = 0; i < 3; i++) {
                long start = System.nanoTime();
                Process process =
                        run("servitor.demo.SmallService", data.toString(), "http://127.0.0.1:9", "http://127.0.0.1:9");
                awaitReady(process);
                ready.add((System.nanoTime() - start) / 1e9);
                heap = heap(process.pid());
                process.getOutputStream().close();
                process.waitFor();
            }
            ready.sort(null);
            System.out.printf(
                    "%12d %11.1f %29.0f %10.0f%n",
                    count, ready.get(1), heap, Files.size(data.resolve("ledger.mv.db")) / 1048576.0);
        }
        System.exit(0);
    }

    private static Process run(String main, String... arguments) throws IOException {
        return Java.ofThisProcess()
                .process(List.of("-Xmx512m"), main, arguments)
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
    }

    private static void awaitReady(Process process) throws IOException {
        BufferedReader out =
                new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
        for (String line = out.readLine(); line != null; line = out.readLine()) {
            if (line.equals("READY")) {
                return;
            }
        }
        throw new IllegalStateException("the service ended before it was ready");
    }

    private static double heap(long pid) throws IOException {
        command("jcmd", String.valueOf(pid), "GC.run");
        Matcher used = USED.matcher(command("jcmd", String.valueOf(pid), "GC.heap_info"));
        return used.find() ? Long.parseLong(used.group(1)) / 1024.0 : Double.NaN;
    }

    private static String command(String... words) throws IOException {
        Process process = new ProcessBuilder(words).redirectErrorStream(true).start();
        return new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    }

    private static void fill(Path data, int count) throws Exception {
        Path handbook = Files.createDirectories(data.resolveSibling("handbook"));
        Map<String, String> files = new TreeMap<>(HandbookFolder.read(Path.of("demo/handbook")));
        files.put("kinds/waiting.yaml", KIND);
        files.put("runbooks/waiting.md", PAGE);
        for (Map.Entry<String, String> file : files.entrySet()) {
            Files.createDirectories(handbook.resolve(file.getKey()).getParent());
            Files.writeString(handbook.resolve(file.getKey()), file.getValue());
        }
        ConfigurableApplicationContext context =
                SmallService.start(data, handbook, "http://127.0.0.1:9", "http://127.0.0.1:9");
        Cases cases = context.getBean(Cases.class);
        ExecutorService clients = Executors.newFixedThreadPool(64);
        List<CompletableFuture<Void>> all = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            String subject = "Question " + i;
            all.add(CompletableFuture.runAsync(
                    () -> cases.open(INES, new NewCase("waiting", subject, "Hm?", "en", null, Map.of()), null),
                    clients));
        }
        all.forEach(CompletableFuture::join);
        clients.shutdown();
        context.close();
    }
}
