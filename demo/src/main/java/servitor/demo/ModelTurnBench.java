package servitor.demo;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.util.FileSystemUtils;
import servitor.core.document.WantedValue;
import servitor.core.engine.PublishedEditions;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Handbook;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.PromptLayout;
import servitor.core.shape.Shape;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.standins.Standins;

/**
 * What a turn of a model takes without the model's own time: runs whose page asks a model ten times, beside the same requests by a bare
 * client in the same run; and what laying out a prompt of a 200-page document takes, beside digesting its text.
 */
public final class ModelTurnBench {
    private static final int TURNS = 10;
    private static final int ROUNDS = 4;
    private static final int AT_ONCE = 8;
    private static final int PAGES = 200;
    private static final int WORDS_A_PAGE = 500;
    private static final double NANOS = 1e9;

    private ModelTurnBench() {}

    public static void main(String[] args) throws Exception {
        int runs = args.length > 0 ? Integer.parseInt(args[0]) : 200;
        Path folder = Files.createTempDirectory("servitor-model-turns-");
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext context = SmallService.start(
                        Files.createDirectories(folder.resolve("data")),
                        handbook(folder),
                        standins.fares().url().toString(),
                        standins.models().url().toString())) {
            for (int round = 0; round < ROUNDS; round++) {
                Map<String, Double> before = ThreadTime.byGroup();
                double turns = play(context, round * runs, runs);
                Map<String, Double> used = ThreadTime.byGroup();
                before.forEach((group, seconds) -> used.merge(group, -seconds, Double::sum));
                double bare = bare(standins, runs * TURNS);
                System.out.printf(
                        "round %d: %7.1f turns a second, %7.1f bare requests a second, ratio %.2f, processor %.2f ms a turn%n",
                        round + 1, turns, bare, turns / bare, own(used) * 1_000 / (runs * TURNS));
            }
            layout(context.getBean(PublishedEditions.class)
                    .current()
                    .orElseThrow()
                    .handbook());
        }
        System.exit(0);
    }

    /** A page that asks ten times. */
    private static Path handbook(Path folder) throws Exception {
        Path handbook = folder.resolve("handbook");
        FileSystemUtils.copyRecursively(Path.of("demo/handbook"), handbook);
        StringBuilder page = new StringBuilder("---\ntitle: Ask\ndesk: passengers\nagent: purser\nstarts:\n"
                + "  - on: case-opened\n    kind: refund\nlimits: { model-tokens: 1000000 }\n---\n");
        for (int i = 1; i <= TURNS; i++) {
            page.append("## Ask ")
                    .append(i)
                    .append(
                            "\nSay what the request is about. \"other\" when it is none of these, whatever else it says.\n")
                    .append("```step\nassess: case\nanswer: { topic: \"one of [delay, staff, other]\" }\nsave: seen")
                    .append(i)
                    .append("\n```\n\n");
        }
        Files.writeString(
                handbook.resolve("runbooks/cancelled-sailing-refund.md"),
                page.append("## Done\n```step\nfinish: resolved\n```\n"));
        return handbook;
    }

    private static double play(ConfigurableApplicationContext context, int from, int runs) throws Exception {
        Cases cases = context.getBean(Cases.class);
        CaseStore caseStore = context.getBean(CaseStore.class);
        long started = System.nanoTime();
        Set<String> opened = IntStream.range(from, from + runs)
                .mapToObj(i -> SmallService.open(cases, "SK-65%04d".formatted(i)))
                .collect(Collectors.toSet());
        while (!caseStore.all(opened).values().stream()
                .allMatch(row -> row.state().equals("resolved"))) {
            Thread.sleep(20);
        }
        return runs * TURNS / ((System.nanoTime() - started) / NANOS);
    }

    /** The same request as the runs', as often and as many at once, by the JDK's client. */
    private static double bare(Standins standins, int requests) throws Exception {
        String body = standins.models().asked().get(0);
        HttpClient client = HttpClient.newHttpClient();
        URI address = URI.create(standins.models().url() + "/chat/completions");
        ExecutorService people = Executors.newFixedThreadPool(AT_ONCE);
        long started = System.nanoTime();
        List<Future<HttpResponse<String>>> all = new ArrayList<>();
        for (int i = 0; i < requests; i++) {
            all.add(people.submit(() -> client.send(
                    HttpRequest.newBuilder(address)
                            .header("Content-Type", "application/json")
                            .POST(HttpRequest.BodyPublishers.ofString(body))
                            .build(),
                    HttpResponse.BodyHandlers.ofString())));
        }
        for (Future<HttpResponse<String>> one : all) {
            one.get();
        }
        people.shutdown();
        return requests / ((System.nanoTime() - started) / NANOS);
    }

    /** Seconds of the processor without those of the stand-in, the compiler and the collector. */
    private static double own(Map<String, Double> used) {
        return used.entrySet().stream()
                .filter(group -> !List.of("stand-in", "compiler", "collector").contains(group.getKey()))
                .mapToDouble(Map.Entry::getValue)
                .sum();
    }

    private static void layout(Handbook handbook) {
        String page = IntStream.range(0, WORDS_A_PAGE)
                .mapToObj(i -> "harbour" + i % 97)
                .collect(Collectors.joining(" "));
        String text = IntStream.rangeClosed(1, PAGES)
                .mapToObj(i -> "[page " + i + "]\n" + page + "\n")
                .collect(Collectors.joining());
        Agent agent = Objects.requireNonNull(handbook.agents().get("purser"));
        List<WantedValue> values = List.of(new WantedValue("holder", Shape.TEXT, List.of(), false));
        double best = Double.MAX_VALUE;
        double floor = Double.MAX_VALUE;
        int sink = 0;
        for (int i = 0; i < 200; i++) {
            long started = System.nanoTime();
            Prompt prompt = PromptLayout.of(handbook.house(), agent).find("Who holds it?", values, "letter.pdf", text);
            best = Math.min(best, (System.nanoTime() - started) / 1e6);
            sink += prompt.user().length();
            started = System.nanoTime();
            sink += Json.digest(text).length();
            floor = Math.min(floor, (System.nanoTime() - started) / 1e6);
        }
        System.out.printf(
                "a prompt of %d pages, %,d bytes: %.2f ms; digesting the text alone %.2f ms, ratio %.2f (%d)%n",
                PAGES, text.getBytes(StandardCharsets.UTF_8).length, best, floor, best / floor, sink % 2);
    }
}
