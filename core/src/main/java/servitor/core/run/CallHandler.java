package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import servitor.core.expression.Path;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb.Call;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Traced;
import tools.jackson.databind.JsonNode;

/** {@code call}: one tool with the inputs the page gives. */
final class CallHandler implements VerbHandler<Call> {

    @Override
    public void enter(Turn turn, Call verb) {
        Traced filled = turn.fill(verb.inputs());
        if (filled == null) {
            return;
        }
        Tool tool = turn.edition().handbook().tools().get(verb.tool());
        for (String input : tool.speaks()) {
            Optional<String> fault = ReviewRule.fault(
                    turn, verb.inputs().field(input), filled.value().path(input).asString(""));
            if (fault.isPresent()) {
                turn.problem("refused", fault.get());
                return;
            }
        }
        Map<String, Traced> inputs = new LinkedHashMap<>();
        Map<String, JsonNode> sources = new LinkedHashMap<>();
        Map<String, Traced> scope = turn.scope();
        for (String name : verb.inputs().fieldNames()) {
            inputs.put(name, filled.at(List.of(name)));
            verb.inputs()
                    .pathOf(name)
                    .flatMap(path -> record(scope, path))
                    .ifPresent(record -> sources.put(name, record));
        }
        GatedCall.propose(turn, new ProposedCall(turn.agent().name(), verb.tool(), inputs, sources));
    }

    /** The record that a path reads a field of: the saved value, or the object inside it that holds the field. */
    private static Optional<JsonNode> record(Map<String, Traced> scope, Path path) {
        Traced root = scope.get(path.root());
        if (root == null
                || path.fields().isEmpty()
                || path.root().equals("case")
                || path.root().equals("requester")) {
            return Optional.empty();
        }
        Traced holder = root.at(path.fields().subList(0, path.fields().size() - 1));
        return holder == null ? Optional.empty() : Optional.of(holder.value());
    }

    @Override
    public void resume(Turn turn, Call verb, RunInput input) {
        GatedCall.resume(turn, input, (call, answer) -> {
            turn.save(verb.save(), Traced.answer(answer, call.inputs()));
            turn.goOn();
        });
    }
}
