package servitor.demo;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.Via;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.approvals.ApprovalFilter;
import servitor.service.approvals.ApprovalRow;
import servitor.service.approvals.ApprovalStore;
import servitor.service.approvals.Approvals;
import servitor.service.approvals.Approvals.Decision;
import servitor.service.cases.CaseFilter;
import servitor.service.cases.Cases;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;
import servitor.service.people.Role;
import servitor.standins.Standins;

/**
 * From an approval's answer to the durable command that follows, while very many others are open, beside commits that hold one entry
 * of the trail, in turns with them; and the first page of the queue.
 */
public final class ApprovalBench {
    private static final int CLIENTS = 32;
    private static final int WARMING = 300;
    private static final int PAGE = 200;
    private static final Person OSEI =
            new Person("osei", "Osei", "", "", Set.of(Role.APPROVER), Set.of("passengers"), Set.of("duty-managers"));

    private ApprovalBench() {}

    public static void main(String[] args) throws Exception {
        int open = args.length > 0 ? Integer.parseInt(args[0]) : 10_000;
        int answers = args.length > 1 ? Integer.parseInt(args[1]) : 1_000;
        Path folder = Files.createTempDirectory("servitor-approvals-");
        Path data = Files.createDirectories(folder.resolve("data"));
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext context = SmallService.start(
                        data,
                        Path.of("demo/handbook"),
                        standins.fares().url().toString(),
                        standins.models().url().toString())) {
            addOsei(context);
            open(context, open + answers + WARMING);
            answer(context, WARMING);
            queue(context);
            List<Long> commits = new ArrayList<>();
            List<Long> answered = answer(context, answers, commits);
            System.out.printf("open approvals:                %d%n", open);
            tell("answer to durable command:", answered, commits);
            tell("a commit of one entry:", commits, commits);
            tell("first page of the queue, " + PAGE + ":", queue(context), commits);
        }
        System.exit(0);
    }

    private static void tell(String what, List<Long> times, List<Long> commits) {
        System.out.printf(
                "%-30s p50 %6.2f ms, p99 %6.2f ms; %.1f commits%n",
                what, at(times, 50) / 1e6, at(times, 99) / 1e6, (double) at(times, 50) / at(commits, 50));
    }

    private static long at(List<Long> times, int share) {
        List<Long> sorted = times.stream().sorted().toList();
        return sorted.get(Math.min(sorted.size() - 1, sorted.size() * share / 100));
    }

    private static void addOsei(ConfigurableApplicationContext context) {
        PersonStore people = context.getBean(PersonStore.class);
        context.getBean(Writer.class).write(tx -> {
            people.insert(tx, new PersonRow("osei", "Osei", "", "", null, "approver", tx.now(), "", null, null));
            people.setMemberships(tx, "osei", OSEI.desks(), OSEI.groups());
            return null;
        });
    }

    /** Opens cases whose wording waits for an answer, until so many do. */
    private static void open(ConfigurableApplicationContext context, int count) throws InterruptedException {
        Cases cases = context.getBean(Cases.class);
        ExecutorService clients = Executors.newFixedThreadPool(CLIENTS);
        for (int i = 0; i < count; i++) {
            String booking = "SK-6%05d".formatted(i);
            clients.execute(() -> SmallService.open(cases, booking));
        }
        clients.shutdown();
        while (waiting(context, count).size() < count) {
            TimeUnit.MILLISECONDS.sleep(200);
        }
    }

    private static List<ApprovalRow> waiting(ConfigurableApplicationContext context, int most) {
        ApprovalFilter filter = new ApprovalFilter(
                "osei", OSEI.answersFor(), OSEI.staffDesks(), true, true, CaseFilter.ALL, null, null);
        return context.getBean(ApprovalStore.class).list(filter, most);
    }

    private static List<Long> queue(ConfigurableApplicationContext context) {
        List<Long> times = new ArrayList<>();
        for (int i = 0; i < 50; i++) {
            long start = System.nanoTime();
            waiting(context, PAGE);
            times.add(System.nanoTime() - start);
        }
        return times;
    }

    private static void answer(ConfigurableApplicationContext context, int count) {
        answer(context, count, new ArrayList<>());
    }

    /** Answers the most urgent, one after the other; a commit of one entry follows each. */
    private static List<Long> answer(ConfigurableApplicationContext context, int count, List<Long> commits) {
        Approvals approvals = context.getBean(Approvals.class);
        Writer writer = context.getBean(Writer.class);
        List<Long> times = new ArrayList<>();
        for (ApprovalRow row : waiting(context, count)) {
            long start = System.nanoTime();
            approvals.answer(OSEI, row.id(), new Decision(Says.APPROVE, row.digest(), "", Map.of(), null, Via.CONSOLE));
            times.add(System.nanoTime() - start); // acknowledged with the command that follows in it
            long commit = System.nanoTime();
            writer.write(tx -> {
                tx.trail(
                        "",
                        "",
                        new TrailEvent(
                                TrailEvent.SYSTEM,
                                TrailWord.SIGNED_IN,
                                "",
                                Json.object().put("person", "osei").put("from", "here")));
                return null;
            });
            commits.add(System.nanoTime() - commit);
        }
        return times;
    }
}
