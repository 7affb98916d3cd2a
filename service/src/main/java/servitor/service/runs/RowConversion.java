package servitor.service.runs;

import java.util.List;
import servitor.core.engine.Stop;
import servitor.core.engine.Trouble;
import servitor.core.engine.Work;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.prompt.Prompt;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import tools.jackson.databind.JsonNode;

/** Rows as the engine's records, and back. */
public final class RowConversion {
    private static final String CALL = "call";
    private static final String ASK_MODEL = "ask-model";
    private static final String TIMER = "timer";

    private RowConversion() {}

    public static RunState run(RunRow row) {
        return Json.read(row.state(), RunState.class);
    }

    static Trouble trouble(TroubleRow row) {
        return new Trouble(
                row.id(),
                Trouble.What.of(row.what()),
                row.caseId(),
                row.runId(),
                row.work(),
                row.step(),
                row.problem(),
                row.detail(),
                row.at());
    }

    public static Work work(CommandRow row) {
        Command command = switch (row.kind()) {
            case CALL ->
                new Command.CallTool(
                        row.id(),
                        Json.read(row.payload(), ProposedCall.class),
                        row.outsideKey().isEmpty() ? row.id() : row.outsideKey());
            case ASK_MODEL -> new Command.AskModel(row.id(), Json.read(row.payload(), Prompt.class));
            case TIMER -> new Command.SetTimer(row.id(), row.due());
            default -> throw new IllegalStateException("nobody knows commands of the kind " + row.kind());
        };
        return new Work(
                row.id(),
                row.runId(),
                command,
                row.connection(),
                Work.Stage.of(row.state()),
                row.owner(),
                row.leaseUntil(),
                row.attempts(),
                row.due(),
                row.sent());
    }

    static CommandRow row(Work work) {
        String kind;
        String payload;
        if (work.command() instanceof Command.CallTool call) {
            kind = CALL;
            payload = Json.write(call.call());
        } else if (work.command() instanceof Command.AskModel ask) {
            kind = ASK_MODEL;
            payload = Json.write(ask.prompt());
        } else {
            kind = TIMER;
            payload = "{}";
        }
        return new CommandRow(
                work.id(),
                work.run(),
                kind,
                payload,
                work.stage().word(),
                work.owner(),
                work.leaseUntil(),
                work.attempts(),
                work.due(),
                work.sent(),
                work.connection(),
                work.key().equals(work.id()) ? "" : work.key());
    }

    static Stop stop(StopRow row) {
        return new Stop(Stop.What.of(row.what()), row.name(), row.reason(), row.stoppedBy(), row.at());
    }

    private static final List<Class<? extends RunInput>> OUTCOMES = List.of(
            RunInput.ToolAnswered.class,
            RunInput.ToolFailed.class,
            RunInput.ToolInDoubt.class,
            RunInput.ModelAnswered.class,
            RunInput.ModelCalled.class,
            RunInput.ModelFailed.class,
            RunInput.TimeUp.class);

    /** What came of work, as text. */
    static String text(RunInput input) {
        return Json.write(
                Json.object().put("sort", input.getClass().getSimpleName()).set("input", Json.of(input)));
    }

    static RunInput input(String text) {
        JsonNode node = Json.read(text, JsonNode.class);
        Class<? extends RunInput> sort = OUTCOMES.stream()
                .filter(one -> one.getSimpleName().equals(node.path("sort").asString("")))
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("nobody knows outcomes of the sort " + node.path("sort")));
        return Json.mapper().convertValue(node.get("input"), sort);
    }
}
