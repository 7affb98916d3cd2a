package servitor.core.handbook;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A page: prose that instructs, step blocks that bind.
 *
 * @param name the file name without its ending
 * @param startsOn kinds whose opened cases start this page; empty when it is started otherwise
 * @param limits how much a run of this page may use
 * @param onTrouble where an unhandled problem leads
 */
public record Runbook(
        String name,
        String title,
        String desk,
        String agent,
        List<String> startsOn,
        Limits limits,
        String onTrouble,
        String intro,
        List<Step> steps,
        Place place) {

    /** The allowance of one run. */
    public record Limits(int calls, int modelTokens) {
        public static final Limits DEFAULT = new Limits(50, 60_000);
    }

    public Runbook {
        startsOn = List.copyOf(startsOn);
        steps = List.copyOf(steps);
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
