package servitor.demo;

import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.nio.file.Path;
import java.util.Map;
import servitor.cli.client.Client;

/** The yard opens a repair order that lacks something, a foreman answers, and a task is opened for the IT desk. */
final class TrackerScene {
    private final Client teun;
    private final URI control;
    private final PrintStream out;

    TrackerScene(Path profiles, URI control, PrintStream out) throws IOException {
        this.teun = new Client(DemoSeeder.profileOf(profiles, "teun"));
        this.control = control;
        this.out = out;
    }

    /** What became of it: the order at the yard, the case that mirrors it, and the task. */
    record Played(String order, String caseId, String task) {}

    Played play() throws IOException, InterruptedException {
        URI tracker = URI.create(Scenes.get(control).path("tracker").asString());
        String order = Scenes.post(
                        tracker.resolve("/orders"),
                        Map.of(
                                "by", "foreman",
                                "ship", "Grey Heron",
                                "title", "Radio dead on the bridge",
                                "text", "The radio on the bridge is dead since Sandholm."))
                .path("order")
                .asString();
        String mirrored = caseOf(order);
        out.println(mirrored + ": the yard opened " + order
                + ". It says neither how the radio is isolated nor shows a photo.");
        Scenes.await(() -> waitingFor(mirrored).contains("repair-orders"));
        out.println(order
                + ": Carpenter has commented what is missing, and put the label ‘with-skerry’ on. That comes back by a web "
                + "hook, and does nothing.");
        Scenes.post(
                tracker.resolve("/orders/" + order + "/comments"),
                Map.of("by", "foreman", "text", "Breaker 14 is open, see the photo."));
        out.println(order + ": the foreman answers, which is a note on " + mirrored + ".");
        Scenes.await(() -> waitingFor(mirrored).contains("C-"));
        String task = teun.get("/api/cases/" + mirrored)
                .path("relations")
                .valueStream()
                .filter(one -> one.path("what").asString().equals("isolation-plan"))
                .findFirst()
                .orElseThrow()
                .path("other")
                .asString();
        out.println(task + ": a task of the IT resolvers to check the plan; " + mirrored + " waits for it.");
        out.println();
        out.println("Resolve the task:    ./servitor --as teun case resolve " + task + " --how 'The plan is right.'");
        out.println("Let the yard begin:  ./servitor --as teun approval list");
        out.println("See it at the yard:  " + tracker.resolve("/orders/" + order));
        return new Played(order, mirrored, task);
    }

    private String caseOf(String order) throws IOException, InterruptedException {
        String[] found = {""};
        Scenes.await(() -> {
            teun.get("/api/cases?kind=repair-order&limit=50").path("items").forEach(one -> {
                if (one.path("subject").asString().startsWith(order + ":")) {
                    found[0] = one.path("id").asString();
                }
            });
            return !found[0].isEmpty();
        });
        return found[0];
    }

    private String waitingFor(String caseId) {
        return teun.get("/api/cases/" + caseId)
                .path("summary")
                .path("waitingFor")
                .asString("");
    }
}
