package servitor.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.handbook.Edition;
import servitor.core.json.Json;
import servitor.core.mandate.Judge;
import servitor.core.run.Situation.CaseView;
import servitor.core.run.Situation.Requester;
import servitor.core.trail.TrailEvent;
import tools.jackson.databind.JsonNode;

/** Plays a run of the machine by hand: gives it inputs, judges its calls, and keeps what it did. */
class Play {
    static final String BOOKING = """
            {"reference":"SK-48213","owner":"P-1042","passenger":"Ines Halloran","paid":84.5,"currency":"EUR",
             "sailing":{"number":"S-311","ship":"Grey Heron","from":"Aldermouth","to":"Varra","departs":"2026-11-20T08:15","state":"cancelled"}}""";

    final Edition edition;
    final List<TrailEvent> trail = new ArrayList<>();
    final List<Command> commands = new ArrayList<>();
    final List<servitor.core.mandate.ProposedCall> judged = new ArrayList<>();
    String proof = "signed-in";
    String channel = "note";
    String text = "You cancelled SK-48213.";
    String fields = "{\"booking\":\"SK-48213\"}";
    String documents = "[]";
    Instant now = Instant.parse("2026-11-24T09:00:00Z");
    RunState state;

    Play(Edition edition) {
        this(edition, "cancelled-sailing-refund");
    }

    Play(Edition edition, String page) {
        this.edition = edition;
        this.state = RunState.ready("r1", "c1", 1, edition.handbook().runbooks().get(page));
    }

    Situation situation() {
        CaseView view = new CaseView(
                "c1",
                "refund",
                "passengers",
                "Refund please",
                text,
                "en",
                read(fields),
                read(documents),
                read("[]"),
                "normal",
                channel,
                "working");
        return new Situation(
                now, view, new Requester("ines", "Ines Halloran", "P-1042", "osei", Set.of(), proof), "ines");
    }

    Play start() {
        return give(new RunInput.Started());
    }

    /** Gives one input, and the verdicts it leads to, as the writer would. */
    Play give(RunInput input) {
        commands.clear();
        RunInput next = input;
        while (next != null) {
            Transition transition =
                    RunMachine.advance(edition, Json.read(Json.write(state), RunState.class), next, situation());
            state = transition.state();
            trail.addAll(transition.happenings());
            next = null;
            for (Command command : transition.commands()) {
                if (command instanceof Command.JudgeCall judge) {
                    judged.add(judge.call());
                    next = new RunInput.Judged(
                            judge.id(),
                            Judge.judge(
                                    edition.handbook(),
                                    judge.call(),
                                    situation().plainScope(state),
                                    servitor.core.mandate.Usage.NONE));
                } else {
                    commands.add(command);
                }
            }
        }
        return this;
    }

    Play answerTool(String json) {
        return give(new RunInput.ToolAnswered(only(Command.CallTool.class).id(), read(json)));
    }

    Play failTool(String problem) {
        return give(new RunInput.ToolFailed(only(Command.CallTool.class).id(), problem, "told so by the test"));
    }

    Play write(String text) {
        JsonNode answer = Json.object()
                .put("text", text)
                .put("reason", "the page says so")
                .put("sure", 0.9);
        return give(new RunInput.ModelAnswered(only(Command.AskModel.class).id(), "test-model", answer, 100));
    }

    Play answerModel(String json) {
        return give(new RunInput.ModelAnswered(only(Command.AskModel.class).id(), "test-model", read(json), 100));
    }

    Play feedback(String said) {
        return give(new RunInput.FeedbackGiven(approval().id(), "osei", said));
    }

    Play approve() {
        return close(ApprovalState.APPROVED, "", Map.of());
    }

    Play close(ApprovalState decision, String reason, Map<String, String> texts) {
        return close(decision, reason, texts, null);
    }

    Play close(ApprovalState decision, String reason, Map<String, String> texts, JsonNode form) {
        ApprovalRequest request = approval();
        return give(new RunInput.ApprovalClosed(request.id(), decision, reason, texts, form, request.of(), "lucja"));
    }

    ApprovalRequest approval() {
        return only(Command.OpenApproval.class).request();
    }

    <C extends Command> C only(Class<C> type) {
        List<C> found =
                commands.stream().filter(type::isInstance).map(type::cast).toList();
        if (found.size() != 1) {
            throw new AssertionError(
                    "expected one " + type.getSimpleName() + " but the machine wants " + commands + " in " + state);
        }
        return found.get(0);
    }

    JsonNode logged(String what) {
        return trail.stream()
                .filter(h -> h.what().word().equals(what))
                .reduce((a, b) -> b)
                .orElseThrow(() -> new AssertionError("no " + what + " in " + trail))
                .data();
    }

    static JsonNode read(String json) {
        return Json.read(json, JsonNode.class);
    }
}
