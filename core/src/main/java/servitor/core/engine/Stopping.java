package servitor.core.engine;

import java.util.List;
import java.util.Optional;
import servitor.core.engine.Work.Stage;
import servitor.core.json.Json;
import servitor.core.run.RunState;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;

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
    public void stop(EngineStore store, Stop stop) {
        store.stop(stop);
        log(store, TrailWord.STOPPED, stop, stop.by(), stop.reason());
        hold(store, "");
    }

    /** Lets it go on; what no other stop holds back is carried out. */
    public void lift(EngineStore store, Stop stop, String by, String reason) {
        store.lift(stop);
        log(store, TrailWord.STOP_LIFTED, stop, by, reason);
        for (Work work : store.workIn(Stage.STOPPED, "")) {
            RunState run = store.run(work.run()).orElseThrow().state();
            if (heldBy(store, work, run).isEmpty()) {
                store.move(work.id(), Stage.STOPPED, run.isPaused() ? Stage.HELD : Stage.PENDING);
            }
            engine.showCase(store, run);
        }
    }

    /** Holds back pending work, of one run or of all, that a stop is about. */
    void hold(EngineStore store, String run) {
        if (store.stops().isEmpty()) {
            return;
        }
        for (Work work : store.workIn(Stage.PENDING, run)) {
            RunState state = store.run(work.run()).orElseThrow().state();
            if (heldBy(store, work, state).isPresent()) {
                store.move(work.id(), Stage.PENDING, Stage.STOPPED);
                engine.showCase(store, state);
            }
        }
    }

    /** The stop that holds work back, if one does. */
    public Optional<Stop> heldBy(EngineStore store, Work work, RunState run) {
        return heldBy(store.stops(), work, run);
    }

    /** The one of {@code stops} that holds work back, if one does. */
    public Optional<Stop> heldBy(List<Stop> stops, Work work, RunState run) {
        if (stops.isEmpty()) {
            return Optional.empty();
        }
        String agent =
                engine.editions().get(run.edition()).handbook().page(run.page()).agent();
        return stops.stream()
                .filter(stop -> stop.holds(work, run.page(), agent))
                .findFirst();
    }

    private static void log(EngineStore store, TrailWord what, Stop stop, String by, String reason) {
        store.trail(
                "",
                "",
                new TrailEvent(
                        TrailEvent.person(by),
                        what,
                        "",
                        Json.object()
                                .put("what", stop.what().word())
                                .put("name", stop.name())
                                .put("reason", reason)));
    }
}
