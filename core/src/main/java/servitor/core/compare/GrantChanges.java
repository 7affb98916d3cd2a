package servitor.core.compare;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Limit;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb.Call;

/** Says what is another about the grants of a mandate; where only a bound has moved, what that does to the steps under it. */
final class GrantChanges {
    private static final Pattern BOUND = Pattern.compile("args\\.(\\w+)\\s*<=?\\s*([0-9]+(?:\\.[0-9]+)?)");

    private final Handbook after;
    private final Mandate mandate;
    private final Consumer<String> said;

    /**
     * For one mandate.
     *
     * @param after the handbook it stands in now
     * @param mandate as it is now
     * @param said takes each sentence
     */
    GrantChanges(Handbook after, Mandate mandate, Consumer<String> said) {
        this.after = after;
        this.mandate = mandate;
        this.said = said;
    }

    void compare(String sort, List<Grant> old, List<Grant> now) {
        Map<String, Grant> left = new LinkedHashMap<>();
        old.forEach(grant -> left.put(grant.name(), grant));
        for (Grant grant : now) {
            Grant was = left.remove(grant.name());
            if (was == null) {
                said.accept(sort + " ‘" + grant.name() + "’ is new: " + describe(grant) + ".");
            } else if (!was.equals(grant)) {
                grant(sort, was, grant);
            }
        }
        left.values().forEach(gone -> said.accept(sort + " ‘" + gone.name() + "’ is gone: " + describe(gone) + "."));
    }

    private String describe(Grant grant) {
        return grant.decision().word() + " " + String.join(", ", grant.tools())
                + (grant.when() == null ? "" : " when " + grant.when().text().strip())
                + (grant.of() == null ? "" : ", answered by " + after.called(grant.of()))
                + (grant.limits().isEmpty()
                        ? ""
                        : ", with " + grant.limits().stream().map(Limit::words).collect(Collectors.joining(" and "))
                                + " (beyond that: " + grant.overLimit().word() + ")");
    }

    private void grant(String sort, Grant was, Grant now) {
        Optional<Bound> moved = moved(was, now);
        List<String> steps = moved.isPresent() ? stepsUnder(now) : List.of();
        if (moved.isPresent() && !steps.isEmpty()) {
            Bound bound = moved.get();
            String then = beyond(now);
            steps.forEach(step -> said.accept("The step ‘" + step + "’ now " + then + " above " + bound.now() + ", was "
                    + bound.old() + " (" + bound.input() + ", grant ‘" + now.name() + "’)."));
        } else {
            said.accept(sort + " ‘" + now.name() + "’ is now: " + describe(now) + ". Before: " + describe(was) + ".");
        }
    }

    private record Bound(String input, String old, String now) {}

    /** The one bound that differs between two grants that are the same otherwise. */
    private static Optional<Bound> moved(Grant was, Grant now) {
        if (was.when() == null
                || now.when() == null
                || was.decision() != now.decision()
                || !was.tools().equals(now.tools())
                || !was.limits().equals(now.limits())
                || was.overLimit() != now.overLimit()
                || !Objects.equals(was.of(), now.of())) {
            return Optional.empty();
        }
        Matcher old = BOUND.matcher(was.when().text());
        Matcher is = BOUND.matcher(now.when().text());
        Bound bound = null;
        while (old.find() && is.find()) {
            if (!old.group(1).equals(is.group(1))
                    || bound != null && !old.group(2).equals(is.group(2))) {
                return Optional.empty();
            }
            if (!old.group(2).equals(is.group(2))) {
                bound = new Bound(old.group(1), plain(old.group(2)), plain(is.group(2)));
            }
        }
        boolean otherwiseSame = BOUND.matcher(was.when().text())
                .replaceAll("bound")
                .equals(BOUND.matcher(now.when().text()).replaceAll("bound"));
        return otherwiseSame ? Optional.ofNullable(bound) : Optional.empty();
    }

    private static String plain(String number) {
        return new java.math.BigDecimal(number).stripTrailingZeros().toPlainString();
    }

    /** The titles of the steps whose calls the grant speaks about. */
    private List<String> stepsUnder(Grant grant) {
        return after.runbooks().values().stream()
                .filter(page -> mandate.agents().contains(page.agent()))
                .sorted(java.util.Comparator.comparing(Runbook::name))
                .flatMap(page -> page.steps().stream())
                .filter(step -> step.verb() instanceof Call call
                        && after.tools().containsKey(call.tool())
                        && grant.covers(after.tools().get(call.tool())))
                .map(Step::title)
                .distinct()
                .toList();
    }

    /** What happens to a call beyond the grant's bound: the next grant for the same tools says it. */
    private String beyond(Grant grant) {
        List<Grant> grants = mandate.grants();
        int at = grants.indexOf(grant);
        for (Grant next : at < 0 ? List.<Grant>of() : grants.subList(at + 1, grants.size())) {
            if (next.tools().stream().anyMatch(grant.tools()::contains)) {
                if (next.decision() == Decision.ASK) {
                    String of = next.of() != null ? next.of() : mandate.ask();
                    return "asks " + (of == null ? "people" : after.called(of));
                }
                return next.decision() == Decision.ALLOW ? "falls under ‘" + next.name() + "’" : "is refused";
            }
        }
        return "is refused";
    }
}
