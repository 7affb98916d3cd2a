package servitor.core.engine;

import java.util.List;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Tool;
import servitor.core.json.Schemas;
import servitor.core.run.RunInput;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import servitor.core.run.RunInput.ToolInDoubt;

/** What came of carrying out a piece of work. */
public sealed interface Outcome {

    /** The run goes on with this input. */
    record Done(RunInput input) implements Outcome {}

    /**
     * Nothing happened outside that can't be repeated: try again later, with the same key.
     *
     * @param sent whether something may have reached the outside system
     */
    record TryAgain(String problem, String detail, boolean sent) implements Outcome {}

    /** What came of a talk of several lines; its transcript is kept as material, whatever came of it. */
    record WithTranscript(Outcome outcome, String transcript) implements Outcome {}

    /** The answer is a note on the case, to be written in the same transaction as the run's next state. */
    record WriteReply(String id, String text) implements Outcome {}

    /**
     * What a call of {@code tool} came to. A call that must not be repeated is tried again only when it provably wasn't
     * sent; when it may have happened, it is in doubt.
     *
     * @param id the idempotency key it was sent with
     */
    static Outcome of(Tool tool, String id, Reply reply) {
        if (reply instanceof Reply.WithTranscript with) {
            return new WithTranscript(of(tool, id, with.reply()), with.transcript());
        } else if (reply instanceof Reply.Answered answered) {
            List<String> violations = Schemas.violations(tool.answers(), answered.body());
            return violations.isEmpty()
                    ? new Done(new ToolAnswered(id, answered.body()))
                    : unclear(
                            tool,
                            id,
                            "invalid",
                            "the answer isn't what the tool declares: " + String.join("; ", violations));
        } else if (reply instanceof Reply.NotSent notSent) {
            return new TryAgain("unavailable", notSent.detail(), false);
        } else if (reply instanceof Reply.Refused refused) {
            return failed(id, refused.problem(), refused.detail());
        } else if (reply instanceof Reply.Failed failed) {
            return refused(tool, id, failed);
        } else if (reply instanceof Reply.Unreadable unreadable) {
            return unclear(tool, id, "invalid", unreadable.detail());
        }
        Reply.Unknown unknown = (Reply.Unknown) reply;
        return tool.effect() == Effect.ONCE
                ? new Done(new ToolInDoubt(id, unknown.detail()))
                : new TryAgain(unknown.timedOut() ? "timeout" : "unavailable", unknown.detail(), true);
    }

    /** An answer that can't be used: a call that mustn't be repeated may have happened all the same. */
    private static Outcome unclear(Tool tool, String id, String problem, String detail) {
        return tool.effect() == Effect.ONCE ? new Done(new ToolInDoubt(id, detail)) : failed(id, problem, detail);
    }

    private static Outcome refused(Tool tool, String id, Reply.Failed failed) {
        String named = tool.problems().get(failed.status());
        if (named != null) {
            return failed(id, named, failed.detail());
        }
        boolean passing =
                failed.status() == 429 || failed.status() == 502 || failed.status() == 503 || failed.status() == 504;
        if (passing && tool.effect() != Effect.ONCE) {
            return new TryAgain("unavailable", failed.detail(), true);
        }
        if (failed.status() >= 500) {
            return unclear(tool, id, "unavailable", failed.detail());
        }
        return failed(id, "invalid", failed.detail());
    }

    private static Outcome failed(String id, String problem, String detail) {
        return new Done(new ToolFailed(id, problem, detail));
    }
}
