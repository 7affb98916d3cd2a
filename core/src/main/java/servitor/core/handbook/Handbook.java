package servitor.core.handbook;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * The folder of plain files that configures everything, parsed.
 *
 * @param checks the tool that a test of a connection calls, by the connection
 */
public record Handbook(
        House house,
        Map<String, Desk> desks,
        Map<String, Group> groups,
        Map<String, Kind> kinds,
        Map<String, Intake> intake,
        Map<String, Agent> agents,
        Map<String, Mandate> mandates,
        Map<String, Tool> tools,
        Map<String, String> checks,
        Map<String, Runbook> runbooks) {

    public Handbook {
        desks = Map.copyOf(desks);
        groups = Map.copyOf(groups);
        kinds = Map.copyOf(kinds);
        intake = Map.copyOf(intake);
        agents = Map.copyOf(agents);
        mandates = Map.copyOf(mandates);
        tools = Map.copyOf(tools);
        checks = Map.copyOf(checks);
        runbooks = Map.copyOf(runbooks);
    }

    /** The page that starts when a case of {@code kind} is opened. */
    public Optional<Runbook> startedBy(String kind) {
        return runbooks.values().stream()
                .filter(page -> page.startsOn().contains(kind))
                .findFirst();
    }

    /** The models, tools and intakes that use a connection, in order. */
    public List<String> goingOutBy(String connection) {
        return Stream.of(
                        house.models().entrySet().stream()
                                .filter(model -> model.getValue().connection().equals(connection))
                                .map(model -> "the model " + model.getKey()),
                        tools.values().stream()
                                .filter(tool -> tool.binding().connection().equals(connection))
                                .map(Tool::name),
                        intake.values().stream()
                                .filter(one -> one.mailbox() != null
                                        && one.mailbox().connection().equals(connection))
                                .map(one -> "the intake " + one.name()))
                .flatMap(names -> names)
                .sorted()
                .toList();
    }

    /** A tool that is known to be there, because the page that calls it was checked. */
    public Tool tool(String name) {
        return known(tools, name);
    }

    /** A page that is known to be there, because a run of it was started. */
    public Runbook page(String name) {
        return known(runbooks, name);
    }

    private static <T> T known(Map<String, T> all, String name) {
        T found = all.get(name);
        if (found == null) {
            throw new IllegalArgumentException("The handbook has no ‘" + name + "’, which it had when it was checked.");
        }
        return found;
    }

    /** A group or desk as people call it, by its title; any other name stays as it is. */
    public String called(String name) {
        if (groups.containsKey(name)) {
            return groups.get(name).title();
        }
        return desks.containsKey(name) ? desks.get(name).title() : name;
    }

    /** The mandates that bind {@code agent}. */
    public List<Mandate> mandatesOf(String agent) {
        return mandates.values().stream()
                .filter(mandate -> mandate.agents().contains(agent))
                .sorted(java.util.Comparator.comparing(Mandate::name))
                .toList();
    }
}
