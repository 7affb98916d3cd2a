package servitor.core.run;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Step;
import servitor.core.run.RunState.Allowance;
import servitor.core.run.RunState.Used;

/** What a run has used of what it may, as it is counted while one input is taken. */
final class RunUsage {
    private final String run;
    private final Allowance allowance;
    private final Map<String, Integer> visitsAt;
    private int visits;
    private int commands;
    private int calls;
    private int tokens;
    private boolean troubled;
    private @Nullable BigDecimal cost;
    private @Nullable Integer heard;

    RunUsage(RunState state) {
        Used used = state.used();
        this.run = state.id();
        this.allowance = state.allowance();
        this.visits = used.visits();
        this.commands = used.commands();
        this.calls = used.calls();
        this.tokens = used.tokens();
        this.troubled = used.troubled();
        this.cost = used.cost();
        this.heard = used.heard();
        this.visitsAt = new LinkedHashMap<>(used.at());
    }

    Used used() {
        return new Used(visits, commands, calls, tokens, troubled, visitsAt, cost, heard);
    }

    /** The id of the next command of the run: the same for the same history, so that it can serve as a key. */
    String nextId() {
        return run + "-" + ++commands;
    }

    /** Counts that a step is entered; false when it has been entered as often as it may be. */
    boolean enters(Step step) {
        visits++;
        return step.atMost() == null || visitsAt.merge(step.address(), 1, Integer::sum) <= step.atMost();
    }

    /** The step may be entered as if it had never been. */
    void forget(String step) {
        visitsAt.remove(step);
    }

    int visits() {
        return visits;
    }

    /** Something came from outside, so that it doesn't go round by itself. */
    void hear() {
        heard = visits;
    }

    /** How many steps were entered since something came from outside. */
    int visitsByItself() {
        return heard == null ? visits : visits - heard;
    }

    void countCall() {
        calls++;
    }

    /** A call that was counted turned out not to have happened. */
    void uncountCall() {
        calls--;
    }

    /** Counts what a followed page has used. */
    void countCalls(int used) {
        calls += Math.max(0, used);
    }

    /** Counts what a model has used, and what that costs where anybody knows. */
    void countModel(int used, @Nullable BigDecimal price) {
        countTokens(used);
        if (price != null) {
            cost = cost == null ? price : cost.add(price);
        }
    }

    /** Counts what a followed page has used; what it cost is told of its own run. */
    void countTokens(int used) {
        tokens += Math.max(0, used);
    }

    int calls() {
        return calls;
    }

    int tokens() {
        return tokens;
    }

    int callsLeft() {
        return allowance.calls() - calls;
    }

    int tokensLeft() {
        return allowance.tokens() - tokens;
    }

    /** Whether the page's way out of trouble has been taken already. */
    boolean isTroubled() {
        return troubled;
    }

    void troubled(boolean is) {
        troubled = is;
    }
}
