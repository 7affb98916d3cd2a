package servitor.core.run;

import java.util.EnumSet;
import java.util.Map;
import java.util.Set;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb.Approve;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.Traced;
import servitor.core.run.RunInput.ApprovalClosed;
import tools.jackson.databind.node.ObjectNode;

/** {@code approve}: people are asked about a text they may change, or about what is shown. */
final class ApproveHandler implements VerbHandler<Approve> {

    @Override
    public void enter(Turn turn, Approve verb) {
        ObjectNode sheet = Json.object();
        if (verb.edit() != null) {
            Traced text = turn.state().saved().get(verb.edit());
            if (text == null) {
                turn.problem("invalid", "‘" + verb.edit() + "’ isn't saved yet, so there is nothing to approve");
                return;
            }
            sheet.putObject("edit")
                    .put("name", verb.edit())
                    .put("text", text.value().asString(""))
                    .put("written", text.written());
        }
        if (!verb.show().isEmpty()) {
            ObjectNode shown = sheet.putObject("show");
            verb.show().forEach(name -> {
                Traced value = turn.state().saved().get(name);
                shown.set(name, value == null ? Json.of(null) : value.value());
            });
        }
        ApprovalRequest request = new ApprovalRequest(
                turn.nextId(),
                turn.state().step(),
                turn.words(verb.question()),
                Set.copyOf(verb.of()),
                false,
                sheet,
                verb.within());
        turn.command(new Command.OpenApproval(request));
        turn.awaitPeople(request.id(), null, "an answer of " + String.join(" or ", verb.of()));
    }

    @Override
    public void resume(Turn turn, Approve verb, RunInput input) {
        if (!(input instanceof ApprovalClosed closed)) {
            return;
        }
        turn.save(
                verb.save(),
                Traced.of(
                        Json.object().put("answer", closed.state().word()).put("reason", closed.reason()),
                        Origin.PERSON));
        if (closed.state() == ApprovalState.APPROVED) {
            accept(turn, verb, closed);
            String way = verb.ways().get("approved");
            if (way == null) {
                turn.goOn();
            } else {
                turn.goTo(way);
            }
        } else {
            String answer = closed.state() == ApprovalState.EXPIRED ? "expired" : "declined";
            turn.noteProblem(answer, closed.reason().isEmpty() ? "nobody answered in time" : closed.reason());
            turn.goTo(verb.ways().getOrDefault(answer, Step.HAND_OVER));
        }
    }

    /** Marks exactly what was shown, as it was accepted, as reviewed. */
    private static void accept(Turn turn, Approve verb, ApprovalClosed closed) {
        Map<String, Traced> saved = turn.state().saved();
        if (verb.edit() != null) {
            Traced before = saved.get(verb.edit());
            String text = closed.edited() != null
                    ? closed.edited().strip()
                    : before.value().asString("");
            if (closed.edited() != null) {
                Set<Origin> origins = EnumSet.of(Origin.PERSON);
                origins.addAll(before.originsAt(""));
                turn.save(verb.edit(), new Traced(Json.of(text), origins, Map.of(), before.written()));
            }
            turn.written(text, true);
        }
        verb.show().forEach(name -> {
            Traced value = saved.get(name);
            if (value != null && value.value().isString()) {
                turn.written(value.value().stringValue(), true);
            }
        });
    }
}
