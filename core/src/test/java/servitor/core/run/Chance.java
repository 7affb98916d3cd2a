package servitor.core.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.SchemaValues;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Answers whatever a run asks for: by chance, or, without chance, as well as it can. */
final class Chance {
    private static final String SHEET = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";
    private final Play play;
    private final @Nullable Random random;
    private final Map<String, Command> open = new LinkedHashMap<>();

    Chance(Play play, @Nullable Random random) {
        this.play = play;
        this.random = random;
        play.documents =
                "[{\"id\":\"D-1\",\"name\":\"list.xlsx\",\"type\":\"" + SHEET + "\",\"size\":9,\"outcome\":\"text\"}]";
    }

    private RunInput document(Command.ReadDocument read) {
        if (happens(4)) {
            return new RunInput.DocumentRead(
                    read.id(), read.document(), "list.xlsx", ReadDocument.nothing(ReadOutcome.CORRUPT, SHEET, ""));
        }
        List<ReadDocument.Row> rows = List.of(
                new ReadDocument.Row(1, List.of(Json.of("Vehicle"), Json.of("Class"), Json.of("Litres"))),
                new ReadDocument.Row(2, List.of(Json.of("van"), Json.of(3), Json.of(20))));
        ReadDocument.Table table =
                new ReadDocument.Table("Goods", 1, rows, happens(4) ? List.of("by chance") : List.of());
        return new RunInput.DocumentRead(
                read.id(),
                read.document(),
                "list.xlsx",
                new ReadDocument(ReadOutcome.TEXT, SHEET, "", List.of(), List.of(table)));
    }

    /** Starts the run and answers it until it ends, at most {@code most} times. */
    void play(int most) {
        give(new RunInput.Started());
        for (int i = 0; i < most && !play.state.status().ended(); i++) {
            RunInput next = next();
            if (next == null) {
                return;
            }
            give(next);
        }
    }

    private void give(RunInput input) {
        play.give(input);
        for (Command command : play.commands) {
            if (command instanceof Command.CallTool call) {
                open.put(call.id(), call);
            } else if (command instanceof Command.AskModel ask) {
                open.put(ask.id(), ask);
            } else if (command instanceof Command.ReadDocument read) {
                open.put(read.id(), read);
            } else if (command instanceof Command.OpenApproval approval) {
                open.put(approval.request().id(), approval);
            } else if (command instanceof Command.StartPage start) {
                open.put(start.id(), start);
            } else if (command instanceof Command.SetTimer timer) {
                open.put(timer.id(), timer);
            } else if (command instanceof Command.WithdrawApproval withdraw) {
                open.remove(withdraw.id());
            }
        }
    }

    private boolean happens(int oneIn) {
        return random != null && random.nextInt(oneIn) == 0;
    }

    private @Nullable RunInput next() {
        RunState.Pending pending = play.state.pending();
        if (pending != null && pending.kind() == RunState.Pending.Kind.ARRIVAL && !happens(3)) {
            boolean time = "time".equals(pending.what());
            return time
                    ? new RunInput.TimeUp(pending.timer())
                    : new RunInput.Arrived(pending.id(), TracedValue.of(arrival(pending.what()), Origin.REQUESTER));
        }
        List<Command> all = new ArrayList<>(open.values());
        all.removeIf(command -> command instanceof Command.SetTimer && random == null);
        if (all.isEmpty()) {
            return null;
        }
        Command command = all.get(random == null ? all.size() - 1 : random.nextInt(all.size()));
        if (command instanceof Command.CallTool call) {
            open.remove(call.id());
            return tool(call);
        } else if (command instanceof Command.AskModel ask) {
            open.remove(ask.id());
            return model(ask);
        } else if (command instanceof Command.ReadDocument read) {
            open.remove(read.id());
            return document(read);
        } else if (command instanceof Command.OpenApproval approval) {
            open.remove(approval.request().id());
            return approval(approval.request());
        } else if (command instanceof Command.StartPage start) {
            open.remove(start.id());
            return new RunInput.PageEnded(
                    start.id(),
                    happens(3) ? "with-people" : "resolved",
                    "by chance",
                    TracedValue.of(Json.object().put("words", "Sent."), Origin.PERSON),
                    List.of(),
                    List.of(),
                    1,
                    10);
        }
        open.remove(((Command.SetTimer) command).id());
        return new RunInput.TimeUp(((Command.SetTimer) command).id());
    }

    private static JsonNode arrival(String what) {
        return Json.object()
                .put("text", "It was red.")
                .put("by", "Ines")
                .put("at", "2026-11-25T10:00:00Z")
                .put("name", what)
                .put("type", "text/plain")
                .put("size", 3);
    }

    private RunInput tool(Command.CallTool call) {
        if (happens(4)) {
            return happens(2)
                    ? new RunInput.ToolFailed(call.id(), "unavailable", "by chance")
                    : new RunInput.ToolFailed(call.id(), "not-found", "by chance");
        }
        Tool tool = play.edition.handbook().tools().get(call.call().tool());
        return new RunInput.ToolAnswered(call.id(), value(tool.outputs(), "SK-48213"));
    }

    private RunInput model(Command.AskModel ask) {
        if (happens(6)) {
            return new RunInput.ModelFailed(ask.id(), Problem.INVALID, "by chance", 10);
        }
        int called = ask.prompt().exchanges().size();
        if (called < ask.prompt().tools().size()) {
            var offered = ask.prompt().tools().get(called);
            return new RunInput.ModelCalled(
                    ask.id(),
                    "chance",
                    List.of(new servitor.core.prompt.Prompt.Wanted(
                            "c" + called, offered.name(), value(offered.inputs(), "S-311"))),
                    10);
        }
        JsonNode answer = value(ask.prompt().contract().schema(), "Words of chance.");
        if (answer.has("plan")) {
            ((ObjectNode) answer).set("plan", plan(ask.prompt().contract().schema()));
        }
        return new RunInput.ModelAnswered(ask.id(), "chance", answer, 10);
    }

    /** A plan that takes each tool once. */
    private static JsonNode plan(JsonNode schema) {
        ArrayNode plan = Json.mapper().createArrayNode();
        for (JsonNode tool : schema.at("/properties/plan/items/properties/tool/enum")) {
            ObjectNode line = plan.addObject().put("does", "Words of chance.");
            line.set("tool", tool);
            line.putArray("with");
            line.put("at-most", 1);
        }
        return plan;
    }

    private RunInput approval(ApprovalRequest request) {
        if (happens(3)) {
            return happens(2)
                    ? new RunInput.FeedbackGiven(request.id(), "osei", "Differently.")
                    : new RunInput.ApprovalClosed(
                            request.id(), ApprovalState.DECLINED, "no", Map.of(), null, Set.of(), "osei");
        }
        JsonNode schema = request.sheet().path("form").path("schema");
        return new RunInput.ApprovalClosed(
                request.id(),
                ApprovalState.APPROVED,
                "",
                Map.of(),
                schema.isObject() ? value(schema, "words") : null,
                request.of(),
                "osei");
    }

    private JsonNode value(JsonNode schema, String text) {
        return SchemaValues.value(schema, text, random);
    }
}
