package servitor.service.runs;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.engine.Engine;
import servitor.core.engine.RunRefused;
import servitor.core.engine.Stop;
import servitor.core.engine.Work;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;
import servitor.core.run.RunState;
import servitor.service.ServitorSettings;
import servitor.service.connections.ConnectionStore;
import servitor.service.editions.Editions;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;

/** Emergency stops: an admin, or an engineer of a desk that it is about, stops something at once and lets it go on. */
@Service
public class Stops {
    private final StopStore stopStore;
    private final RunStore runStore;
    private final ConnectionStore connectionStore;
    private final Writer writer;
    private final Engine engine;
    private final Editions editions;
    private final boolean alone;
    private volatile @Nullable List<Stop> known;

    Stops(
            StopStore stopStore,
            RunStore runStore,
            ConnectionStore connectionStore,
            Writer writer,
            Engine engine,
            Editions editions,
            ServitorSettings settings) {
        this.stopStore = stopStore;
        this.runStore = runStore;
        this.connectionStore = connectionStore;
        this.writer = writer;
        this.engine = engine;
        this.editions = editions;
        this.alone = !settings.isShared();
        writer.onCommit(changes -> {
            if (changes.stream().anyMatch(change -> change.what().equals("stop"))) {
                known = null;
            }
        });
    }

    /** The stops that stand. */
    public List<Stop> all() {
        List<Stop> stops = known;
        if (stops == null || !alone) {
            stops = stopStore.all();
            known = stops;
        }
        return stops;
    }

    /** Whether nothing may go by a connection. */
    public boolean holdsConnection(String name) {
        return all().stream()
                .anyMatch(stop ->
                        stop.what() == Stop.What.CONNECTION && stop.name().equals(name));
    }

    /** Whether work that was taken may no longer leave. */
    public boolean holds(Work work) {
        List<Stop> stops = all();
        return !stops.isEmpty()
                && runStore.find(work.run())
                        .filter(run -> engine.stopping()
                                .heldBy(stops, work, RowConversion.run(run))
                                .isPresent())
                        .isPresent();
    }

    /** Whether this very stop holds work of a run back. */
    public boolean holdsBy(Stop stop, Work work, RunState run) {
        return engine.stopping().heldBy(List.of(stop), work, run).isPresent();
    }

    /** Stops something at once. */
    public Stop stop(Person person, Stop.What what, String name, String reason) {
        mayStop(person, what, name);
        exists(what, name);
        return writer.write(tx -> {
            Stop stop = new Stop(what, name, reason, person.id(), tx.now());
            engine.stopping().stop(tx.store(), stop);
            return stop;
        });
    }

    /** Lets it go on. */
    public void lift(Person person, Stop.What what, String name, String reason) {
        mayStop(person, what, name);
        writer.write(tx -> {
            Stop stop = tx.store().stops().stream()
                    .filter(one -> one.what() == what && one.name().equals(name))
                    .findFirst()
                    .orElseThrow(() -> new RunRefused("The " + what.word() + " ‘" + name + "’ isn't stopped."));
            engine.stopping().lift(tx.store(), stop, person.id(), reason);
            return null;
        });
    }

    /** Whether a person may stop this and let it go on: every admin, and engineers of the desks that work with it. */
    public boolean may(Person person, Stop.What what, String name) {
        return Access.STOP_ANYTHING.allows(person)
                || desksOf(what, name).stream().anyMatch(desk -> Access.STOP_AT_THE_DESK.allows(person, desk));
    }

    private void mayStop(Person person, Stop.What what, String name) {
        if (!may(person, what, name)) {
            throw new NotAllowed("Admins, and engineers of a desk that works with the " + what.word() + " ‘" + name
                    + "’, stop it and let it go on.");
        }
    }

    private Handbook handbook() {
        return editions.current()
                .orElseThrow(() -> new IllegalArgumentException("No handbook has been published yet."))
                .handbook();
    }

    private void exists(Stop.What what, String name) {
        Handbook book = handbook();
        Set<String> there = switch (what) {
            case AGENT -> book.agents().keySet();
            case PAGE -> book.runbooks().keySet();
            case TOOL -> book.tools().keySet();
            case CONNECTION -> connections(book);
        };
        if (!there.contains(name)) {
            throw new IllegalArgumentException("There is no " + what.word() + " ‘" + name + "’. There are: "
                    + String.join(", ", new TreeSet<>(there)) + ".");
        }
    }

    private Set<String> connections(Handbook book) {
        Set<String> names = new TreeSet<>();
        connectionStore.all().forEach(row -> names.add(row.name()));
        book.tools().values().forEach(tool -> names.add(tool.binding().connection()));
        names.remove("");
        return names;
    }

    private Set<String> desksOf(Stop.What what, String name) {
        Handbook book = handbook();
        Set<String> desks = new TreeSet<>();
        switch (what) {
            case AGENT ->
                Optional.ofNullable(book.agents().get(name)).map(Agent::desk).ifPresent(desks::add);
            case PAGE ->
                Optional.ofNullable(book.runbooks().get(name))
                        .map(Runbook::desk)
                        .ifPresent(desks::add);
            case TOOL ->
                Optional.ofNullable(book.tools().get(name)).ifPresent(tool -> desks.addAll(desksOf(book, tool)));
            case CONNECTION -> {
                book.tools().values().stream()
                        .filter(tool -> tool.binding().connection().equals(name))
                        .forEach(tool -> desks.addAll(desksOf(book, tool)));
                book.agents().values().stream()
                        .filter(agent -> Optional.ofNullable(
                                        book.house().models().get(agent.model()))
                                .filter(model -> model.connection().equals(name))
                                .isPresent())
                        .forEach(agent -> desks.add(agent.desk()));
            }
        }
        return desks;
    }

    private static Set<String> desksOf(Handbook book, Tool tool) {
        Set<String> desks = new TreeSet<>();
        book.agents().values().stream()
                .filter(agent -> book.mandatesOf(agent.name()).stream()
                        .anyMatch(mandate -> mandate.grants().stream().anyMatch(grant -> grant.covers(tool))))
                .forEach(agent -> desks.add(agent.desk()));
        return desks;
    }
}
