package servitor.core.engine;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.json.Outside;
import servitor.core.json.Schemas;
import servitor.core.origin.NormalForm;
import servitor.core.run.RunInput;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import servitor.core.run.RunInput.ToolInDoubt;
import tools.jackson.databind.JsonNode;

/** What came of carrying out a piece of work. */
public sealed interface Outcome {

    /** The run goes on with this input. */
    record Done(RunInput input) implements Outcome {}

    /**
     * Nothing happened outside that can't be repeated: try again later, with the same key.
     *
     * @param sent whether something may have reached the outside system
     * @param after how long the outside system wants to be left alone; zero when it doesn't say
     */
    record TryAgain(Problem problem, String detail, boolean sent, Duration after) implements Outcome {
        public TryAgain(Problem problem, String detail, boolean sent) {
            this(problem, detail, sent, Duration.ZERO);
        }
    }

    /** What came of a talk of several lines; its transcript is kept as material, whatever came of it. */
    record WithTranscript(Outcome outcome, String transcript) implements Outcome {}

    /**
     * What a call of {@code tool} came to. A call that must not be repeated is tried again only when it provably wasn't
     * sent; when it may have happened, it is in doubt.
     *
     * @param id the work it is the outcome of
     * @param args the inputs it was sent with, which the answer may repeat
     */
    static Outcome of(Tool tool, String id, JsonNode args, Reply reply) {
        if (reply instanceof Reply.WithTranscript with) {
            return new WithTranscript(of(tool, id, args, with.reply()), with.transcript());
        } else if (reply instanceof Reply.Answered answered) {
            return wrong(tool, args, answered.body())
                    .map(why -> unclear(tool, id, Problem.INVALID, why))
                    .orElseGet(() -> new Done(new ToolAnswered(id, answered.body())));
        } else if (reply instanceof Reply.NotSent notSent) {
            return new TryAgain(Problem.UNAVAILABLE, notSent.detail(), false);
        } else if (reply instanceof Reply.Refused refused) {
            return failed(id, refused.problem(), refused.detail());
        } else if (reply instanceof Reply.Failed failed) {
            return refused(tool, id, failed);
        } else if (reply instanceof Reply.Unreadable unreadable) {
            return unclear(tool, id, Problem.INVALID, unreadable.detail());
        }
        Reply.Unknown unknown = (Reply.Unknown) reply;
        return tool.effect() == Effect.ONCE
                ? new Done(new ToolInDoubt(id, unknown.detail()))
                : new TryAgain(unknown.timedOut() ? Problem.TIMEOUT : Problem.UNAVAILABLE, unknown.detail(), true);
    }

    /** Why an answer isn't one to this call; empty when it is. */
    private static Optional<String> wrong(Tool tool, JsonNode args, JsonNode answer) {
        Optional<String> beyond = Outside.fault(answer).map(fault -> "the answer is more than is taken: " + fault);
        if (beyond.isPresent()) {
            return beyond;
        }
        List<String> violations = Schemas.violations(tool.answers(), answer);
        return violations.isEmpty()
                ? notEchoed(tool, args, answer)
                : Optional.of("the answer isn't what the tool declares: " + String.join("; ", violations));
    }

    /** An answer that names another record or amount than the call is the answer to some other call. */
    private static Optional<String> notEchoed(Tool tool, JsonNode args, JsonNode answer) {
        return tool.echoes().entrySet().stream()
                .filter(echo -> args.has(echo.getValue()))
                .filter(echo -> !NormalForm.of(answer.at("/" + echo.getKey().replace('.', '/')))
                        .equals(NormalForm.of(args.get(echo.getValue()))))
                .map(echo -> "the answer is about another ‘" + echo.getKey() + "’ than the call")
                .findFirst();
    }

    /** An answer that can't be used: a call that mustn't be repeated may have happened all the same. */
    private static Outcome unclear(Tool tool, String id, Problem problem, String detail) {
        return tool.effect() == Effect.ONCE
                ? new Done(new ToolInDoubt(id, detail))
                : failed(id, problem.word(), detail);
    }

    private static Outcome refused(Tool tool, String id, Reply.Failed failed) {
        String named = tool.problems().get(failed.status());
        if (named != null) {
            return failed(id, named, failed.detail());
        }
        boolean passing =
                failed.status() == 429 || failed.status() == 502 || failed.status() == 503 || failed.status() == 504;
        boolean looking = failed.status() >= 500 && tool.effect() == Effect.READ;
        if (passing && tool.effect() != Effect.ONCE || looking) {
            return new TryAgain(Problem.UNAVAILABLE, failed.detail(), true, failed.again());
        }
        if (failed.status() >= 500) {
            return unclear(tool, id, Problem.UNAVAILABLE, failed.detail());
        }
        return failed(id, Problem.INVALID.word(), failed.detail());
    }

    private static Outcome failed(String id, String problem, String detail) {
        return new Done(new ToolFailed(id, problem, detail));
    }
}
