package servitor.core.rehearsal;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import servitor.core.explain.Marks;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * What of a handbook no rehearsal touches. A way counts as taken when a run went from its one heading to the other, or ended behind the
 * one where the other is a word such as {@code hand over}.
 *
 * @param steps that no run entered
 * @param ways that no run took, of steps that were entered
 * @param grants that judged no call
 * @param allSteps how many steps there are
 * @param allWays how many ways
 * @param allGrants how many grants, refusals included
 */
public record Coverage(
        List<StepOf> steps, List<WayOf> ways, List<GrantOf> grants, int allSteps, int allWays, int allGrants) {
    public Coverage {
        steps = List.copyOf(steps);
        ways = List.copyOf(ways);
        grants = List.copyOf(grants);
    }

    /** A step of a page, by its heading. */
    public record StepOf(String page, String step, String address) {}

    /** A way between two steps; {@code on} is what it is taken on, empty for the plain way. */
    public record WayOf(String page, String from, String on, String to) {}

    /** A grant of a mandate, or a refusal before all grants. */
    public record GrantOf(String mandate, String grant) {}

    /** What these plays of rehearsals leave out. */
    public static Coverage of(Handbook handbook, List<Played> plays) {
        Set<String> seen = new HashSet<>();
        plays.forEach(play -> gather(play.trail(), seen));
        List<StepOf> steps = new ArrayList<>();
        List<WayOf> ways = new ArrayList<>();
        List<GrantOf> grants = new ArrayList<>();
        int allSteps = 0;
        int allWays = 0;
        int allGrants = 0;
        for (Runbook page : sorted(handbook.runbooks())) {
            Flow flow = new Flow(page);
            for (Step step : page.steps()) {
                boolean entered = seen.contains(key(page.name(), step.address()));
                allSteps++;
                if (!entered) {
                    steps.add(new StepOf(page.name(), step.title(), step.address()));
                }
                for (Flow.Way way : flow.waysOut(step)) {
                    allWays++;
                    if (entered && !way.to().isEmpty() && !seen.contains(key(page.name(), step.address(), way.to()))) {
                        ways.add(new WayOf(page.name(), step.title(), way.on(), way.to()));
                    }
                }
            }
        }
        for (Mandate mandate : sorted(handbook.mandates())) {
            allGrants += mandate.grants().size() + mandate.never().size();
            mandate.grants().stream()
                    .filter(grant -> !seen.contains("grant " + grant.name()))
                    .forEach(grant -> grants.add(new GrantOf(mandate.name(), grant.name())));
            mandate.never().stream()
                    .filter(grant -> !seen.contains("grant " + grant.name()))
                    .forEach(grant -> grants.add(new GrantOf(mandate.name(), grant.name())));
        }
        return new Coverage(steps, ways, grants, allSteps, allWays, allGrants);
    }

    /** What of a page is to be set apart in its drawing. */
    public Marks marks(Runbook page) {
        Set<String> untouched = new HashSet<>();
        steps.stream().filter(step -> step.page().equals(page.name())).forEach(step -> untouched.add(step.address()));
        Set<Marks.Way> untaken = new HashSet<>();
        ways.stream()
                .filter(way -> way.page().equals(page.name()))
                .forEach(way -> untaken.add(new Marks.Way(Step.address(way.from()), way.on())));
        return new Marks(untouched, untaken, "no rehearsal comes here");
    }

    private static <T> List<T> sorted(Map<String, T> byName) {
        return byName.entrySet().stream()
                .sorted(Map.Entry.comparingByKey())
                .map(Map.Entry::getValue)
                .toList();
    }

    private static String key(String... parts) {
        return String.join("\n", parts);
    }

    private static void gather(List<RecordedEntry> trail, Set<String> seen) {
        Map<String, String> pages = new HashMap<>();
        Map<String, String> at = new HashMap<>();
        for (RecordedEntry recorded : trail) {
            String run = recorded.entry().runId();
            String what = recorded.entry().what();
            JsonNode data = recorded.data();
            if (data == null) {
                continue;
            }
            if (what.equals(TrailWord.RUN_STARTED.word())) {
                pages.put(run, data.path("page").asString(""));
            } else if (what.equals(TrailWord.STEP.word())) {
                String page = pages.getOrDefault(run, "");
                String step = recorded.entry().step();
                String before = at.put(run, step);
                seen.add(key(page, step));
                if (before != null) {
                    seen.add(key(page, before, step));
                }
            } else if (what.equals(TrailWord.RUN_FINISHED.word()) || what.equals(TrailWord.HANDED_OVER.word())) {
                boolean handed = what.equals(TrailWord.HANDED_OVER.word())
                        || CaseState.WITH_PEOPLE.is(data.path("outcome").asString(""));
                seen.add(key(
                        pages.getOrDefault(run, ""), at.getOrDefault(run, ""), handed ? Step.HAND_OVER : Step.STOP));
            } else if (what.equals(TrailWord.VERDICT.word())) {
                seen.add("grant " + data.path("grant").asString(""));
            }
        }
    }
}
