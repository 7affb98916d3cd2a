package servitor.core.handbook;

import java.util.HashMap;
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
        Map<String, Room> rooms,
        Map<String, Kind> kinds,
        Map<String, Intake> intake,
        Map<String, Agent> agents,
        Map<String, Mandate> mandates,
        Map<String, Tool> tools,
        Map<String, String> checks,
        Map<String, Runbook> runbooks,
        Map<String, Rehearsal> rehearsals) {

    public Handbook {
        desks = Map.copyOf(desks);
        groups = Map.copyOf(groups);
        rooms = Map.copyOf(rooms);
        kinds = Map.copyOf(kinds);
        intake = Map.copyOf(intake);
        agents = Map.copyOf(agents);
        mandates = Map.copyOf(mandates);
        tools = Map.copyOf(tools);
        checks = Map.copyOf(checks);
        runbooks = Map.copyOf(runbooks);
        rehearsals = Map.copyOf(rehearsals);
    }

    /** The same with another mandate of that name. */
    public Handbook with(Mandate mandate) {
        Map<String, Mandate> others = new HashMap<>(mandates);
        others.put(mandate.name(), mandate);
        return with(others, runbooks);
    }

    /** The same with another page of that name. */
    public Handbook with(Runbook page) {
        Map<String, Runbook> others = new HashMap<>(runbooks);
        others.put(page.name(), page);
        return with(mandates, others);
    }

    private Handbook with(Map<String, Mandate> otherMandates, Map<String, Runbook> otherPages) {
        return new Handbook(
                house,
                desks,
                groups,
                rooms,
                kinds,
                intake,
                agents,
                otherMandates,
                tools,
                checks,
                otherPages,
                rehearsals);
    }

    /** The page that starts when a case of {@code kind} is opened. */
    public Optional<Runbook> startedBy(String kind) {
        return runbooks.values().stream()
                .filter(page -> page.startsOn().contains(kind))
                .findFirst();
    }

    /** The pages that may start when a case of {@code kind} changes so, in order; whether their conditions hold isn't looked at. */
    public List<Runbook> startedByChange(String kind, CaseChange.What what, String named) {
        return runbooks.values().stream()
                .filter(page -> page.changes().stream().anyMatch(change -> is(change, kind, what, named)))
                .sorted(java.util.Comparator.comparing(Runbook::name))
                .toList();
    }

    private static boolean is(CaseChange change, String kind, CaseChange.What what, String named) {
        return change.kind().equals(kind)
                && change.what() == what
                && change.named().equals(named);
    }

    /** Whatever uses a connection, in order. */
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
                                .map(one -> "the intake " + one.name()),
                        desks.values().stream()
                                .filter(desk -> desk.mail() != null
                                        && desk.mail().connection().equals(connection))
                                .map(desk -> "mails of the desk " + desk.name()),
                        rooms.values().stream()
                                .filter(room -> room.connection().equals(connection))
                                .map(room -> "the room " + room.name()))
                .flatMap(names -> names)
                .sorted()
                .toList();
    }

    /** The connection that a call of a tool goes out by, for a case of {@code desk}; empty when it needs none. */
    public String connectionOf(Tool tool, String desk, String to) {
        return switch (tool.name()) {
            case Telling.MAIL, Telling.FIND_MAIL ->
                letterheadOf(desk).map(Letterhead::connection).orElse("");
            case Telling.CHAT -> roomOf(to).map(Room::connection).orElse("");
            default -> tool.binding().connection();
        };
    }

    /** What the mails of a desk look like; empty when it sends none. */
    public Optional<Letterhead> letterheadOf(String desk) {
        return Optional.ofNullable(desks.get(desk)).map(Desk::mail);
    }

    /** The room in which a desk or group is told things; empty when it has none. */
    public Optional<Room> roomOf(String deskOrGroup) {
        Optional<String> ofDesk = Optional.ofNullable(desks.get(deskOrGroup)).map(Desk::room);
        return ofDesk.or(() -> Optional.ofNullable(groups.get(deskOrGroup)).map(Group::room))
                .map(rooms::get);
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
