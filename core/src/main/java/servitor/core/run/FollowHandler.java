package servitor.core.run;

import java.util.List;
import java.util.Objects;
import java.util.Set;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb.Follow;
import servitor.core.json.Json;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.PageEnded;
import servitor.core.run.RunState.Allowance;
import servitor.core.run.RunState.Pending;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.node.ObjectNode;

/** {@code follow}: another page with inputs; its own agent and mandate apply, and it uses this run's allowance. */
final class FollowHandler implements VerbHandler<Follow> {

    @Override
    public void enter(TransitionBuilder turn, Follow verb) {
        TracedValue takes = turn.fill(verb.with());
        if (takes == null) {
            return;
        }
        String id = turn.usage().nextId();
        start(
                turn,
                id,
                verb.page(),
                takes,
                new Allowance(turn.usage().callsLeft(), turn.usage().tokensLeft()),
                turn.chain());
        turn.awaitLong(
                new Pending(Pending.Kind.PAGES, id, null, Set.of()), "the page ‘" + title(turn, verb.page()) + "’");
    }

    /** Starts a page within this run's allowance, or its own if that is smaller. */
    static void start(
            TransitionBuilder turn, String id, String page, TracedValue takes, Allowance most, List<String> chain) {
        var limits = turn.edition().handbook().page(page).limits();
        Allowance allowance = new Allowance(
                Math.max(0, Math.min(most.calls(), limits.calls())),
                Math.max(0, Math.min(most.tokens(), limits.modelTokens())));
        turn.log(TrailWord.PAGE_FOLLOWED, record(turn, page).set("takes", takes.value()));
        turn.command(
                new Command.StartPage(id, page, takes, allowance, turn.known().written(), chain, turn.inShadow()));
    }

    /** The page with the agent that works it, where that is another than this run's. */
    private static ObjectNode record(TransitionBuilder turn, String page) {
        Handbook handbook = turn.edition().handbook();
        String agent = handbook.page(page).agent();
        ObjectNode record = Json.object().put("page", page);
        return agent.equals(turn.page().agent())
                ? record
                : record.put(
                        "agent",
                        Objects.requireNonNull(handbook.agents().get(agent)).title());
    }

    static String title(TransitionBuilder turn, String page) {
        return turn.edition().handbook().page(page).title();
    }

    /** Whether a page came to an end that its caller can build on. */
    static boolean endedWell(PageEnded ended) {
        return CaseState.RESOLVED.is(ended.outcome())
                || CaseState.CLOSED.is(ended.outcome())
                || CaseState.OPEN.is(ended.outcome());
    }

    /** Hears what came of a page, and takes over what it used, wrote and learnt. */
    static void hear(TransitionBuilder turn, String page, PageEnded ended) {
        turn.log(
                TrailWord.PAGE_GAVE,
                record(turn, page)
                        .put("outcome", ended.outcome())
                        .put("why", ended.why())
                        .set("gives", ended.gives().value()));
        takeOver(turn, ended);
    }

    /** Takes over what a page used, wrote and learnt. */
    static void takeOver(TransitionBuilder turn, PageEnded ended) {
        turn.usage().countCalls(ended.calls());
        turn.usage().countTokens(ended.tokens());
        turn.known().writtenElsewhere(ended.written());
        turn.concealedElsewhere(ended.concealed());
    }

    @Override
    public void resume(TransitionBuilder turn, Follow verb, RunInput input) {
        if (input instanceof PageEnded ended) {
            hear(turn, verb.page(), ended);
            if (endedWell(ended)) {
                turn.known().save(verb.save(), ended.gives());
                turn.goOn();
            } else {
                turn.problem(
                        Problem.TROUBLE,
                        "‘" + title(turn, verb.page()) + "’ ended " + ended.outcome() + ": " + ended.why());
            }
        }
    }
}
