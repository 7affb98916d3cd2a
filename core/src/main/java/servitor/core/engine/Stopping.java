package servitor.core.engine;

import java.util.List;
import java.util.Optional;
import servitor.core.engine.Work.Stage;
import servitor.core.json.Json;
import servitor.core.run.RunState;
import servitor.core.trail.Happening;

/**
 * Emergency stops. Work that a stop holds back has a stage of its own, so that nobody who looks for work comes upon it; what is
 * still in hand is asked about once more before it leaves.
 */
public final class Stopping {
    private final Engine engine;

    Stopping(Engine engine) {
        this.engine = engine;
    }

    /** Stops something at once, for all runs, those that begin later among them. */
    public void stop(Books books, Stop stop) {
        books.stop(stop);
        log(books, "stopped", stop, stop.by(), stop.reason());
        hold(books, "");
    }

    /** Lets it go on; what no other stop holds back is carried out. */
    public void lift(Books books, Stop stop, String by, String reason) {
        books.lift(stop);
        log(books, "stop-lifted", stop, by, reason);
        for (Work work : books.workIn(Stage.STOPPED, "")) {
            RunState run = books.run(work.run()).orElseThrow().state();
            if (heldBy(books, work, run).isEmpty()) {
                books.move(work.id(), Stage.STOPPED, run.isPaused() ? Stage.HELD : Stage.PENDING);
            }
            engine.showCase(books, run);
        }
    }

    /** Holds back pending work, of one run or of all, that a stop is about. */
    void hold(Books books, String run) {
        if (books.stops().isEmpty()) {
            return;
        }
        for (Work work : books.workIn(Stage.PENDING, run)) {
            RunState state = books.run(work.run()).orElseThrow().state();
            if (heldBy(books, work, state).isPresent()) {
                books.move(work.id(), Stage.PENDING, Stage.STOPPED);
                engine.showCase(books, state);
            }
        }
    }

    /** The stop that holds work back, if one does. */
    public Optional<Stop> heldBy(Books books, Work work, RunState run) {
        return heldBy(books.stops(), work, run);
    }

    /** The one of {@code stops} that holds work back, if one does. */
    public Optional<Stop> heldBy(List<Stop> stops, Work work, RunState run) {
        if (stops.isEmpty()) {
            return Optional.empty();
        }
        String agent = engine.editions()
                .get(run.edition())
                .handbook()
                .runbooks()
                .get(run.page())
                .agent();
        return stops.stream()
                .filter(stop -> stop.holds(work, run.page(), agent))
                .findFirst();
    }

    private static void log(Books books, String what, Stop stop, String by, String reason) {
        books.trail(
                "",
                "",
                new Happening(
                        Happening.person(by),
                        what,
                        "",
                        Json.object()
                                .put("what", stop.what().word())
                                .put("name", stop.name())
                                .put("reason", reason)));
    }
}
