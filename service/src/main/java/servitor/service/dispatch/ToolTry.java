package servitor.service.dispatch;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.springframework.stereotype.Service;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Outcome;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.Concealed;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ledger.Writer;
import tools.jackson.databind.JsonNode;

/** A tool that only reads, tried out by a person: through the same gate, with an entry on the trail before anything is sent. */
@Service
public class ToolTry {
    private final ToolGate gate;
    private final Writer writer;

    ToolTry(ToolGate gate, Writer writer) {
        this.gate = gate;
        this.writer = writer;
    }

    /**
     * What came of a try.
     *
     * @param problem empty when it answered
     * @param transcript what was said, when it took a dialogue; else empty
     */
    public record Tried(String problem, String detail, JsonNode answer, String transcript) {}

    /** Tries {@code tool}; throws {@link IllegalArgumentException} when the inputs don't fit. */
    public Tried call(Tool tool, JsonNode args, String person) throws InterruptedException {
        List<String> faults = Schemas.violations(tool.given(), args);
        if (!faults.isEmpty()) {
            throw new IllegalArgumentException("The inputs don't fit the tool: " + String.join("; ", faults) + ".");
        }
        Map<String, TracedValue> inputs = new LinkedHashMap<>();
        args.properties().forEach(e -> inputs.put(e.getKey(), TracedValue.of(e.getValue(), Origin.PERSON)));
        tool.house().forEach((name, value) -> inputs.put(name, TracedValue.of(value, Origin.HANDBOOK)));
        ProposedCall call = new ProposedCall("", tool.name(), inputs, Map.of());
        writer.write(tx -> {
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            TrailEvent.person(person),
                            TrailWord.TOOL_TRIED,
                            "",
                            Json.object().put("tool", tool.name()).set("inputs", call.args())));
            return null;
        });
        String id = "try-" + UUID.randomUUID();
        Tried tried = tried(gate.call(tool, call, id, id, Deadline.in(tool.timeLimit())), "");
        return new Tried(
                tried.problem(),
                tried.detail(),
                Concealed.shown(tool, tried.answer()),
                Concealed.shown(tool, tried.answer(), tried.transcript()));
    }

    private static Tried tried(Outcome outcome, String transcript) {
        if (outcome instanceof Outcome.WithTranscript with) {
            return tried(with.outcome(), with.transcript());
        } else if (outcome instanceof Outcome.TryAgain again) {
            return new Tried(again.problem().word(), again.detail(), Json.object(), transcript);
        } else if (outcome instanceof Outcome.Done done && done.input() instanceof ToolFailed failed) {
            return new Tried(failed.problem(), failed.detail(), Json.object(), transcript);
        }
        return new Tried("", "", ((ToolAnswered) ((Outcome.Done) outcome).input()).answer(), transcript);
    }
}
