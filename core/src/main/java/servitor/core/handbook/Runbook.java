package servitor.core.handbook;

import java.math.BigDecimal;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.shape.Shape;

/**
 * A page: prose that instructs, step blocks that bind.
 *
 * @param name the file name without its ending
 * @param startsOn kinds whose opened cases start this page; empty when it is started otherwise
 * @param changes of cases that start it, too
 * @param takes what the page is given when another follows it
 * @param gives what it gives back, filled when it finishes
 * @param limits how much a run of this page may use
 * @param onTrouble where an unhandled problem leads
 */
public record Runbook(
        String name,
        String title,
        String desk,
        String agent,
        List<String> startsOn,
        List<CaseChange> changes,
        Shape.Fields takes,
        Map<String, Template> gives,
        Limits limits,
        String onTrouble,
        String intro,
        List<Step> steps,
        Places places) {

    /** The same page with another step in the place of one. */
    public Runbook with(Step step) {
        List<Step> others = steps.stream()
                .map(one -> one.address().equals(step.address()) ? step : one)
                .toList();
        return new Runbook(
                name, title, desk, agent, startsOn, changes, takes, gives, limits, onTrouble, intro, others, places);
    }

    /**
     * The allowance of one run.
     *
     * @param cost what its models may cost, with those of the pages it follows; null for no limit
     * @param time null when it may take as long as it likes
     */
    public record Limits(
            int calls,
            int modelTokens,
            @Nullable BigDecimal cost,
            @Nullable Duration time) {
        public static final Limits DEFAULT = new Limits(50, 60_000, null, null);
    }

    public Runbook {
        startsOn = List.copyOf(startsOn);
        changes = List.copyOf(changes);
        gives = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(gives));
        steps = List.copyOf(steps);
    }

    /** The kinds of the cases it starts on, opened or changed. */
    public List<String> kinds() {
        return Stream.concat(startsOn.stream(), changes.stream().map(CaseChange::kind))
                .distinct()
                .toList();
    }

    /** Where the value of a key of the front matter stands. */
    public Place placeOf(String key) {
        return places.of(key);
    }

    /** Where the page begins. */
    public Place place() {
        return places.top();
    }

    public Optional<Step> step(String address) {
        return steps.stream().filter(step -> step.address().equals(address)).findFirst();
    }

    /** The heading after {@code step}; null when it is the last. */
    public @Nullable Step after(Step step) {
        int next = steps.indexOf(step) + 1;
        return next < steps.size() ? steps.get(next) : null;
    }
}
