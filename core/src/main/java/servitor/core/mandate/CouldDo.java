package servitor.core.mandate;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Tool;
import servitor.core.handbook.WayOfWorking;
import tools.jackson.databind.JsonNode;

/** What agents could do: for each agent and tool what its mandates say, in the order in which they say it. */
public final class CouldDo {
    private CouldDo() {}

    /**
     * One line of what a mandate says of a tool.
     *
     * @param mandate its title
     * @param grant the grant's name; for a line of {@code never} the same
     * @param verdict what it says
     * @param when its condition as it is written; empty when it always matches
     * @param of who is asked; empty unless somebody is
     * @param limits in words, each with what has been used today where that is kept for the whole agent or house
     */
    public record Line(
            String mandate,
            String grant,
            Decision verdict,
            String when,
            Set<String> of,
            List<Used> limits,
            String beyond) {
        private Line calling(UnaryOperator<String> names) {
            Set<String> called = new TreeSet<>();
            of.forEach(name -> called.add(names.apply(name)));
            return new Line(mandate, grant, verdict, when, called, limits, beyond);
        }
    }

    /**
     * A limit with what has been used of it.
     *
     * @param used what has been used in the window that is open now; null when it is counted for each case, run or requester
     */
    public record Used(
            String words, BigDecimal atMost, @Nullable BigDecimal used) {}

    /** What an agent can at most do with a tool. */
    public enum Reach {
        /** At least some calls go through with nobody asked. */
        ALONE,
        /** Calls go through only when people approve. */
        ASKS,
        /** Calls are proposed and judged, and none leaves. */
        SHADOW,
        /** No call goes through. */
        NEVER
    }

    /**
     * One agent and one tool.
     *
     * @param works how the agent works with the tool: supervised, people are asked although a line says allow
     */
    public record Cell(String agent, String tool, Reach reach, WayOfWorking works, List<Line> lines) {
        /** Whether people are asked although a line says allow. */
        public boolean supervised() {
            return works == WayOfWorking.SUPERVISED;
        }

        /** The same, where those who are asked are called as {@code names} says. */
        public Cell calling(UnaryOperator<String> names) {
            return new Cell(
                    agent,
                    tool,
                    reach,
                    works,
                    lines.stream().map(line -> line.calling(names)).toList());
        }
    }

    /** All agents and tools of a handbook, by name; the tool that writes to requesters included. */
    public static List<Cell> table(Handbook handbook, JsonNode now, Usage usage) {
        List<Cell> cells = new ArrayList<>();
        for (Agent agent : handbook.agents().values().stream()
                .sorted(Comparator.comparing(Agent::name))
                .toList()) {
            for (Tool tool : handbook.tools().values().stream()
                    .sorted(Comparator.comparing(Tool::name))
                    .toList()) {
                cells.add(cell(handbook, agent, tool, now, usage));
            }
        }
        return cells;
    }

    private static Cell cell(Handbook handbook, Agent agent, Tool tool, JsonNode now, Usage usage) {
        WayOfWorking works = WayOfWorking.of(agent, tool);
        boolean supervised = works == WayOfWorking.SUPERVISED;
        List<Line> lines = new ArrayList<>();
        Reach reach = Reach.NEVER;
        boolean first = true;
        for (Mandate mandate : handbook.mandatesOf(agent.name())) {
            Reach under = under(handbook, mandate, agent, tool, supervised, now, usage, lines);
            reach = first || under.compareTo(reach) > 0 ? under : reach; // the strictest of several mandates
            first = false;
        }
        return new Cell(agent.name(), tool.name(), reach(reach, works), works, lines);
    }

    private static Reach reach(Reach granted, WayOfWorking works) {
        Reach most = switch (works) {
            case ALONE -> Reach.ALONE;
            case SUPERVISED -> Reach.ASKS;
            case SHADOW -> Reach.SHADOW;
        };
        return most.compareTo(granted) > 0 ? most : granted;
    }

    private static Reach under(
            Handbook handbook,
            Mandate mandate,
            Agent agent,
            Tool tool,
            boolean supervised,
            JsonNode now,
            Usage usage,
            List<Line> lines) {
        Reach reach = Reach.NEVER;
        for (Grant never : mandate.never()) {
            if (never.covers(tool)) {
                lines.add(line(handbook, mandate, never, agent, false, now, usage));
                if (never.when() == null) {
                    return Reach.NEVER;
                }
            }
        }
        for (Grant grant : mandate.grants()) {
            if (grant.covers(tool)) {
                lines.add(line(handbook, mandate, grant, agent, supervised, now, usage));
                Reach one = grant.decision() == Decision.ALLOW
                        ? Reach.ALONE
                        : grant.decision() == Decision.ASK ? Reach.ASKS : Reach.NEVER;
                reach = one.compareTo(reach) < 0 ? one : reach;
                if (grant.when() == null) {
                    break; // nothing below it is ever looked at
                }
            }
        }
        return reach;
    }

    private static Line line(
            Handbook handbook,
            Mandate mandate,
            Grant grant,
            Agent agent,
            boolean supervised,
            JsonNode now,
            Usage usage) {
        List<Used> limits = grant.limits().stream()
                .map(limit -> new Used(
                        limit.words(),
                        limit.atMost(),
                        limit.counter(
                                        mandate.name(),
                                        grant.name(),
                                        agent.name(),
                                        now,
                                        handbook.house().timeZone())
                                .map(usage::alone)
                                .orElse(null)))
                .toList();
        String group = grant.of() != null ? grant.of() : mandate.ask();
        boolean asks = grant.decision() == Decision.ASK
                || supervised && grant.decision() == Decision.ALLOW
                || !limits.isEmpty() && grant.overLimit() == Decision.ASK;
        return new Line(
                mandate.title(),
                grant.name(),
                grant.decision(),
                grant.when() == null ? "" : grant.when().text().strip(),
                asks && group != null ? new TreeSet<>(Set.of(group)) : Set.of(),
                limits,
                limits.isEmpty() ? "" : grant.overLimit().word());
    }

    /** A cell in words, as people read it: what goes through alone, whom it asks, what never goes through. */
    public static String words(Cell cell) {
        if (cell.lines().isEmpty()) {
            return "never: nothing grants it";
        }
        List<String> parts = new ArrayList<>();
        for (Line line : cell.lines()) {
            String said = switch (line.verdict()) {
                case ALLOW -> cell.supervised() ? "asks " + String.join(" and ", line.of()) + " (supervised)" : "alone";
                case ASK -> "asks " + String.join(" and ", line.of());
                case DENY -> "never";
            };
            String when = line.when().isEmpty() ? "" : " when " + line.when().replaceAll("\\s+", " ");
            StringBuilder limits = new StringBuilder();
            for (Used limit : line.verdict() == Decision.ALLOW ? line.limits() : List.<Used>of()) {
                limits.append(", ").append(limit.words());
                Optional.ofNullable(limit.used())
                        .ifPresent(used -> limits.append(" (used: ")
                                .append(used.stripTrailingZeros().toPlainString())
                                .append(')'));
            }
            if (!limits.isEmpty()) {
                limits.append(", beyond that ")
                        .append(line.beyond().equals("ask") ? "asks " + String.join(" and ", line.of()) : "never");
            }
            parts.add(said + when + limits);
        }
        boolean open = cell.lines().get(cell.lines().size() - 1).when().isEmpty();
        return (cell.works() == WayOfWorking.SHADOW ? "in shadow, so nothing leaves; of itself: " : "")
                + String.join("; ", parts)
                + (open ? "" : "; otherwise never");
    }
}
