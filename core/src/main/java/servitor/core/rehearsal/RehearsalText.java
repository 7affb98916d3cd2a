package servitor.core.rehearsal;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.snakeyaml.engine.v2.api.Dump;
import org.snakeyaml.engine.v2.api.DumpSettings;
import org.snakeyaml.engine.v2.common.FlowStyle;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.handbook.Rehearsal.CallOf;
import servitor.core.handbook.Rehearsal.Calls;
import servitor.core.handbook.Rehearsal.Comes;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Rehearsal.Doubt;
import servitor.core.handbook.Rehearsal.Fails;
import servitor.core.handbook.Rehearsal.Gives;
import servitor.core.handbook.Rehearsal.ModelSays;
import servitor.core.handbook.Rehearsal.Must;
import servitor.core.handbook.Rehearsal.Paper;
import servitor.core.handbook.Rehearsal.PeopleSay;
import servitor.core.handbook.Rehearsal.Result;
import servitor.core.handbook.Rehearsal.Silent;
import servitor.core.handbook.Rehearsal.ToolSays;
import servitor.core.handbook.Rehearsal.Unasked;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** A rehearsal as a file of the handbook. */
public final class RehearsalText {
    private RehearsalText() {}

    /** The text of the file; {@code remarks} stand above it. */
    public static String of(Rehearsal rehearsal, List<String> remarks) {
        ObjectNode file = Json.object().put("title", rehearsal.title());
        file.set("case", about(rehearsal.about()));
        ArrayNode answers = Json.mapper().createArrayNode();
        rehearsal.cues().forEach(cue -> answers.add(cue(cue)));
        file.set("answers", answers);
        file.set("must", must(rehearsal.must()));
        StringBuilder text = new StringBuilder();
        remarks.forEach(remark ->
                text.append("# ").append(remark.replaceAll("[\\r\\n]+", " ")).append('\n'));
        DumpSettings block = DumpSettings.builder()
                .setDefaultFlowStyle(FlowStyle.BLOCK)
                .setWidth(140)
                .build();
        return text.append(new Dump(block).dumpToString(Json.mapper().convertValue(file, Map.class)))
                .toString();
    }

    private static ObjectNode about(About about) {
        ObjectNode told = Json.object().put("kind", about.kind());
        if (about.page() != null) {
            told.put("page", about.page());
        }
        told.put("subject", about.subject())
                .put("text", about.text())
                .put("language", about.language())
                .put("channel", about.channel())
                .put("at", about.at().toString());
        told.set("fields", about.fields());
        ObjectNode requester = told.putObject("requester")
                .put("id", about.requester().id())
                .put("name", about.requester().name())
                .put("account", about.requester().account())
                .put("manager", about.requester().manager())
                .put("proof", about.requester().proof());
        requester.set(
                "groups", Json.of(about.requester().groups().stream().sorted().toList()));
        if (!about.documents().isEmpty()) {
            ArrayNode documents = told.putArray("documents");
            about.documents().forEach(paper -> documents.add(paper(paper)));
        }
        return told;
    }

    private static ObjectNode paper(Paper paper) {
        ObjectNode told = Json.object()
                .put("name", paper.name())
                .put("type", paper.type())
                .put("outcome", paper.outcome().word());
        told.set("pages", Json.of(paper.pages()));
        return told;
    }

    /** An answer in the form it has in a file. */
    public static ObjectNode cue(Cue cue) {
        if (cue instanceof ToolSays says) {
            ObjectNode told = Json.object().put("tool", says.tool());
            if (!says.with().isEmpty()) {
                told.set("with", says.with());
            }
            return result(told, says.result());
        } else if (cue instanceof ModelSays says) {
            ObjectNode told = result(Json.object().put("model", says.step()), says.result());
            return says.tokens() == ModelSays.usual(says.result()) ? told : told.put("tokens", says.tokens());
        } else if (cue instanceof PeopleSay says) {
            return said(says);
        } else if (cue instanceof Unasked unasked) {
            return unasked(unasked);
        }
        Comes comes = (Comes) cue;
        ObjectNode told = Json.object().put("comes", comes.what());
        if (!comes.named().isEmpty()) {
            told.put("named", comes.named());
        }
        if (comes.paper() != null) {
            told.set("document", paper(comes.paper()));
        } else if (comes.what().equals("reply")) {
            told.put("text", comes.value().path("text").asString(""));
        } else if (!comes.value().isEmpty()) {
            told.set("gives", comes.value());
        }
        return after(comes.unawaited() ? told.put("unawaited", true) : told, comes.after());
    }

    private static ObjectNode said(PeopleSay says) {
        ObjectNode told = Json.object().put("people", says.step()).put("say", says.says());
        if (!says.by().isEmpty()) {
            told.put("by", says.by());
        }
        if (!says.reason().isEmpty()) {
            told.put("reason", says.reason());
        }
        if (!says.texts().isEmpty()) {
            told.set("texts", Json.of(says.texts()));
        }
        if (says.form() != null) {
            told.set(says.gives() ? "gives" : "form", says.form());
        }
        return after(told, says.after());
    }

    private static ObjectNode unasked(Unasked unasked) {
        ObjectNode told = Json.object()
                .put("unasked", unasked.does())
                .put("at", unasked.at())
                .put("by", unasked.by())
                .put("says", unasked.says());
        return after(unasked.which() == 1 ? told : told.put("which", unasked.which()), unasked.after());
    }

    private static ObjectNode after(ObjectNode told, Duration after) {
        return after.isZero() ? told : told.put("after", after.toString());
    }

    private static ObjectNode result(ObjectNode told, Result result) {
        if (result instanceof Gives gives) {
            told.set("gives", gives.value());
        } else if (result instanceof Fails fails) {
            told.put("fails", fails.problem()).put("detail", fails.detail());
        } else if (result instanceof Doubt doubt) {
            told.put("in-doubt", doubt.detail());
        } else if (result instanceof Silent) {
            told.put("silent", true);
        } else {
            told.set("calls", calls(((Calls) result).calls()));
        }
        return told;
    }

    private static JsonNode calls(List<CallOf> calls) {
        ArrayNode told = Json.mapper().createArrayNode();
        calls.forEach(call -> told.addObject().put("tool", call.tool()).set("with", call.with()));
        return told;
    }

    private static ObjectNode must(Must must) {
        ObjectNode told = Json.object();
        if (must.end() != null) {
            told.put("end", must.end());
        }
        told.set("steps", Json.of(must.steps()));
        if (!must.calls().isEmpty()) {
            told.set("calls", calls(must.calls()));
        }
        told.set("verdicts", Json.of(must.verdicts()));
        told.set("asked", Json.of(must.asked()));
        return told;
    }
}
