package servitor.core.consent;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Limit;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;

/**
 * Whose a change of the handbook is: the desks whose files it changes, whose tools it grants, or by whose connections it goes out. An
 * engineer of each has to stand behind it.
 *
 * @param desks what touches each, by its desk, such as {@code tools/pay.yaml} or {@code a grant of pay.own-payslips}
 * @param house what touches the whole house, so that a second engineer has to look at it
 */
public record Touched(Map<String, Set<String>> desks, Set<String> house) {
    public Touched {
        desks = new TreeMap<>(desks);
        house = new LinkedHashSet<>(house);
    }

    /** What is changed from one handbook to another. */
    private record Change(Handbook was, Handbook now, UnaryOperator<String> owners) {}

    /**
     * What a change touches.
     *
     * @param connections the desk that each connection belongs to, or {@link Tool#HOUSE}; empty where nobody has said
     */
    public static Touched by(
            Handbook was,
            Handbook now,
            Map<String, String> before,
            Map<String, String> after,
            UnaryOperator<String> connections) {
        Change change = new Change(was, now, connections);
        Map<String, Set<String>> desks = new TreeMap<>();
        Set<String> house = new LinkedHashSet<>();
        Stream.concat(before.keySet().stream(), after.keySet().stream())
                .distinct()
                .sorted()
                .filter(path -> !Objects.equals(before.get(path), after.get(path)))
                .forEach(path -> {
                    for (Handbook book : List.of(was, now)) {
                        ofFile(path, book, change).forEach(desk -> touch(desks, desk, path));
                    }
                    if (folder(path).isEmpty()) {
                        house.add(path);
                        deskFile(path, change).forEach(desk -> touch(desks, desk, path));
                    }
                });
        grants(change)
                .forEach(tool ->
                        ownersOf(tool, change.now()).forEach(desk -> touch(desks, desk, "a grant of " + tool.name())));
        desks.keySet()
                .retainAll(
                        was.desks().isEmpty()
                                ? now.desks().keySet()
                                : was.desks().keySet());
        return new Touched(desks, house);
    }

    private static void touch(Map<String, Set<String>> desks, String desk, String what) {
        desks.computeIfAbsent(desk, name -> new TreeSet<>()).add(what);
    }

    private static String folder(String path) {
        return path.contains("/") ? path.substring(0, path.indexOf('/')) : "";
    }

    /** The desks that a file belongs to as a handbook has it. */
    private static Set<String> ofFile(String path, Handbook book, Change change) {
        String name = path.substring(path.indexOf('/') + 1).replaceFirst("\\.(yaml|md)$", "");
        return switch (folder(path)) {
            case "kinds" -> of(book.kinds().get(name), Kind::desk);
            case "agents" -> of(book.agents().get(name), Agent::desk);
            case "runbooks" -> of(book.runbooks().get(name), Runbook::desk);
            case "mandates" ->
                Optional.ofNullable(book.mandates().get(name))
                        .map(mandate -> ofAgents(mandate, book))
                        .orElse(Set.of());
            case "rehearsals" ->
                Optional.ofNullable(book.rehearsals().get(name))
                        .map(rehearsal -> of(book.kinds().get(rehearsal.about().kind()), Kind::desk))
                        .orElse(Set.of());
            case "intake" ->
                Optional.ofNullable(book.intake().get(name))
                        .map(intake -> ofIntake(intake, book, change))
                        .orElse(Set.of());
            case "tools" -> ofTools(name.replaceFirst("\\.openapi$", ""), book, change);
            default -> Set.of();
        };
    }

    private static <T> Set<String> of(@Nullable T one, Function<T, String> desk) {
        return one == null ? Set.of() : Set.of(desk.apply(one));
    }

    private static Set<String> ofAgents(Mandate mandate, Handbook book) {
        return mandate.agents().stream()
                .flatMap(agent -> of(book.agents().get(agent), Agent::desk).stream())
                .collect(Collectors.toSet());
    }

    /** A file of tools is its desk's, and that of whose connection they go out by; one of the house is that of all who are granted them. */
    private static Set<String> ofTools(String file, Handbook book, Change change) {
        Set<String> desks = new TreeSet<>();
        for (Tool tool : book.tools().values()) {
            if (tool.name().startsWith(file + ".")) {
                desks.addAll(tool.desk().equals(Tool.HOUSE) ? granted(tool, book) : ownersOf(tool, book));
                String by = tool.binding().connection();
                desks.addAll(by.isEmpty() ? Set.of() : ofConnection(by, change));
            }
        }
        return desks;
    }

    /** An intake is the desk's whose cases it opens, and that of whose mailbox, file or system it reads. */
    private static Set<String> ofIntake(Intake intake, Handbook book, Change change) {
        Set<String> desks = new TreeSet<>(of(book.kinds().get(intake.kind()), Kind::desk));
        Stream.of(
                        Stream.ofNullable(intake.hook()),
                        Stream.ofNullable(intake.mailbox()).map(Intake.Mailbox::connection))
                .flatMap(all -> all)
                .forEach(by -> desks.addAll(ofConnection(by, change)));
        return desks;
    }

    /** Whose a connection is: as an admin has said, or else of the desks that use it in the handbook in force. */
    private static Set<String> ofConnection(String name, Change change) {
        String said = change.owners().apply(name);
        if (!said.isEmpty()) {
            return said.equals(Tool.HOUSE) ? Set.of() : Set.of(said);
        }
        Handbook was = change.was();
        Set<String> desks = new TreeSet<>();
        was.tools().values().stream()
                .filter(tool -> tool.binding().connection().equals(name))
                .forEach(tool -> desks.addAll(ownersOf(tool, was)));
        was.intake().values().stream()
                .filter(intake -> name.equals(intake.hook())
                        || intake.mailbox() != null
                                && intake.mailbox().connection().equals(name))
                .forEach(intake -> desks.addAll(of(was.kinds().get(intake.kind()), Kind::desk)));
        was.desks().values().stream()
                .filter(desk -> desk.mail() != null && desk.mail().connection().equals(name))
                .forEach(desk -> desks.add(desk.name()));
        return desks;
    }

    /** The desks of which an engineer grants a tool: nobody's for one of the house, everybody's where nobody has said. */
    private static Set<String> ownersOf(Tool tool, Handbook book) {
        if (tool.desk().isEmpty()) {
            return book.desks().keySet();
        }
        return tool.desk().equals(Tool.HOUSE) ? Set.of() : Set.of(tool.desk());
    }

    /** The desks whose agents are granted a tool. */
    private static Set<String> granted(Tool tool, Handbook book) {
        return book.mandates().values().stream()
                .filter(mandate -> mandate.grants().stream().anyMatch(grant -> grant.covers(tool)))
                .flatMap(mandate -> ofAgents(mandate, book).stream())
                .collect(Collectors.toSet());
    }

    /** The tools that are granted otherwise than before: by another grant, to another agent, or with less that is never allowed. */
    private static List<Tool> grants(Change change) {
        List<Tool> tools = new ArrayList<>();
        for (Tool tool : change.now().tools().values()) {
            Set<String> now = granting(tool, change.now());
            if (!now.isEmpty() && !now.equals(granting(tool, change.was()))) {
                tools.add(tool);
            }
        }
        return tools;
    }

    /** All that decides about calls of a tool, as it is written: the mandates that grant it, each whole, with the desks of their agents. */
    private static Set<String> granting(Tool tool, Handbook book) {
        Set<String> granting = new TreeSet<>();
        for (Mandate mandate : book.mandates().values()) {
            for (Grant grant : mandate.grants()) {
                if (grant.covers(tool)) {
                    granting.add(
                            new TreeSet<>(mandate.agents()) + " " + mandate.ask() + " " + written(grant) + " but never "
                                    + mandate.never().stream()
                                            .filter(never -> never.covers(tool))
                                            .map(Touched::written)
                                            .sorted()
                                            .toList());
                }
            }
        }
        return granting;
    }

    private static String written(Grant grant) {
        return grant.tools() + " " + grant.decision() + " "
                + (grant.when() == null ? "" : grant.when().text()) + " " + grant.of() + " "
                + grant.limits().stream().map(Touched::written).toList() + " " + grant.overLimit();
    }

    private static String written(Limit limit) {
        return (limit.sum() == null ? "" : limit.sum().text()) + " " + limit.atMost() + " " + limit.per();
    }

    /** The desks that a change of a file of the house touches: those whose own entries it changes, or all. */
    private static Set<String> deskFile(String path, Change change) {
        Set<String> all = new TreeSet<>(change.was().desks().keySet());
        if (!path.equals("desks.yaml")) {
            return all;
        }
        Set<String> changed = all.stream()
                .filter(desk -> !Objects.equals(
                        change.was().desks().get(desk), change.now().desks().get(desk)))
                .collect(Collectors.toCollection(TreeSet::new));
        boolean others = !change.was().groups().equals(change.now().groups()) || changed.isEmpty();
        return others ? all : changed;
    }
}
