package servitor.core.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunState.Standing;
import servitor.core.run.RunState.Used;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * One step of a model, tried by itself: what the model would be asked there, and what its answer would come to. It is the machine that runs
 * take, so nothing is guessed; and nothing is sent, kept or counted.
 */
public final class StepTry {
    private final Edition edition;
    private final Situation situation;
    private final Step step;
    private final Transition entered;

    private StepTry(Edition edition, Situation situation, Step step, Transition entered) {
        this.edition = edition;
        this.situation = situation;
        this.step = step;
        this.entered = entered;
    }

    /**
     * What came up, in words of pages.
     *
     * @param name the problem
     */
    public record Trouble(String name, String detail) {}

    /**
     * What an answer comes to.
     *
     * @param saved what the step would save; null when it saves nothing of it
     * @param trouble the problem that the step would take its way for; null when there is none
     */
    public record Came(@Nullable JsonNode saved, @Nullable Trouble trouble) {}

    /**
     * A call the model wants.
     *
     * @param call as the gate would be asked about it; null when it wouldn't come that far
     * @param trouble why not; null when it would
     */
    public record Meant(
            Wanted wanted,
            @Nullable ProposedCall call,
            @Nullable Trouble trouble) {}

    /** Whether a step can be tried: it asks a model, of nothing but what a run knows. */
    public static boolean canBeTried(Step step) {
        return step.verb() instanceof Verb.Assess
                || step.verb() instanceof Verb.Draft
                || step.verb() instanceof Verb.Pursue;
    }

    /**
     * Enters a step.
     *
     * @param run what is known there; where it stands and what it has used doesn't matter
     * @param named the step, by its address or heading
     * @param facts known in addition, by the names that steps save them under
     * @throws IllegalArgumentException when the page has no such step that can be tried
     */
    public static StepTry at(
            Edition edition, RunState run, Situation situation, String named, Map<String, JsonNode> facts) {
        Runbook page = edition.handbook().page(run.page());
        Step step = page.steps().stream()
                .filter(one -> one.address().equals(named) || one.title().equalsIgnoreCase(named))
                .filter(StepTry::canBeTried)
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException(
                        "‘" + page.name() + "’ has no step ‘" + named + "’ that asks a model of what is known."));
        TransitionBuilder turn = new TransitionBuilder(edition, page, fresh(edition, run, facts), situation);
        turn.goTo(step.address());
        RunMachine.enterSteps(turn, page);
        return new StepTry(edition, situation, step, turn.end());
    }

    private static RunState fresh(Edition edition, RunState run, Map<String, JsonNode> facts) {
        Map<String, TracedValue> saved = new LinkedHashMap<>(run.saved());
        facts.forEach((name, value) -> saved.put(name, TracedValue.of(value, Origin.PERSON)));
        RunState ready = RunState.ready(
                run.id(), run.caseId(), edition.number(), edition.handbook().page(run.page()));
        return new RunState(
                ready.id(),
                ready.caseId(),
                ready.edition(),
                ready.page(),
                null,
                run.takes(),
                ready.allowance(),
                run.epoch(),
                Standing.READY,
                Used.NOTHING,
                saved,
                run.written(),
                run.memory(),
                run.startedOn());
    }

    /** What the model would be asked; empty when something comes up before. */
    public Optional<Prompt> prompt() {
        return asked().map(Command.AskModel::prompt);
    }

    /** The id that an answer is for. */
    public String question() {
        return asked().map(Command.AskModel::id).orElse("");
    }

    private Optional<Command.AskModel> asked() {
        return entered.commands().stream()
                .filter(Command.AskModel.class::isInstance)
                .map(Command.AskModel.class::cast)
                .filter(ask -> entered.state().step().equals(step.address()))
                .findFirst();
    }

    /** Why the model wouldn't be asked; empty when it would. */
    public Optional<Trouble> trouble() {
        return trouble(entered);
    }

    /** What an answer comes to, or that there was none. */
    public Came came(RunInput input) {
        Transition next = RunMachine.advance(edition, entered.state(), input, situation);
        Trouble trouble = trouble(next).orElse(null);
        TracedValue saved =
                input instanceof ModelAnswered && trouble == null && step.verb().save() != null
                        ? next.state().saved().get(step.verb().save())
                        : null;
        return new Came(saved == null ? null : saved.value(), trouble);
    }

    /** What each call that a model wants would be, were it the first. */
    public List<Meant> meant(ModelCalled called) {
        List<Meant> meant = new ArrayList<>();
        for (Wanted wanted : called.wanted()) {
            ModelCalled alone = new ModelCalled(called.id(), called.model(), List.of(wanted), 0);
            Transition next = RunMachine.advance(edition, entered.state(), alone, situation);
            ProposedCall call = next.commands().stream()
                    .filter(Command.JudgeCall.class::isInstance)
                    .map(command -> ((Command.JudgeCall) command).call())
                    .findFirst()
                    .orElse(null);
            meant.add(new Meant(wanted, call, call == null ? trouble(next).orElse(null) : null));
        }
        return meant;
    }

    /** The step's own trouble: what later steps meet is theirs. */
    private Optional<Trouble> trouble(Transition transition) {
        boolean left = false;
        for (TrailEvent event : transition.happenings()) {
            left |= event.what() == TrailWord.STEP && !event.step().equals(step.address());
            if (!left && event.what() == TrailWord.PROBLEM) {
                return Optional.of(new Trouble(
                        event.data().path("problem").asString(""),
                        event.data().path("detail").asString("")));
            }
        }
        return Optional.empty();
    }
}
