package servitor.core.run;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Quorum;
import servitor.core.handbook.Verb.Pursue;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Exchange;
import servitor.core.prompt.Prompt.Offered;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.run.RunInput.ApprovalClosed;
import servitor.core.run.RunInput.FeedbackGiven;
import servitor.core.run.StepProgress.Found;
import servitor.core.run.StepProgress.Pursuit;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What a model asks people in mid-pursuit: which of several candidates is meant, or what only they know. Candidates are values that
 * the run has seen, never made up; what people choose counts as theirs.
 */
final class PursuitQuestion {
    static final String TOOL = "case.ask";
    private static final Duration ASK_WITHIN = Duration.ofDays(2);
    private static final String ANSWER = "answer";
    private static final JsonNode INPUTS = Json.mapper().readTree("""
            { "type": "object", "additionalProperties": false, "required": ["question"],
              "properties": {
                "question": { "type": "string", "minLength": 3, "maxLength": 500 },
                "candidates": { "type": "array", "minItems": 2, "maxItems": 20, "items": {
                  "type": "object", "additionalProperties": false, "required": ["value", "title"],
                  "properties": { "value": { "type": "string", "minLength": 1, "maxLength": 200 }, "title": { "type": "string", "minLength": 1, "maxLength": 200 } } } } } }
            """);

    private PursuitQuestion() {}

    static Offered offered() {
        return new Offered(
                TOOL,
                "Asks people of the desk. Where several candidates fit, ask which one, with the candidates as the tools gave them; "
                        + "where something isn't there that should be, say so and ask. Never choose or guess instead.",
                INPUTS);
    }

    static void ask(TransitionBuilder turn, Pursue verb, Wanted wanted) {
        List<String> wrong = Schemas.violations(INPUTS, wanted.args());
        Pursuit pursuit = Objects.requireNonNull(turn.memory().pursuit());
        long asked =
                pursuit.exchanges().stream().filter(PursuitQuestion::answered).count();
        if (!wrong.isEmpty()) {
            refuse(turn, verb, Problem.INVALID, String.join("; ", wrong));
        } else if (asked >= verb.questions()) {
            refuse(
                    turn,
                    verb,
                    Problem.REFUSED,
                    "people may be asked " + verb.questions() + " times here, and have been");
        } else {
            for (JsonNode candidate : wanted.args().path("candidates")) {
                if (!isKnown(turn, candidate.path("value").asString(""))) {
                    refuse(
                            turn,
                            verb,
                            Problem.REFUSED,
                            "‘" + candidate.path("value").asString("")
                                    + "’ is no candidate: nothing that was looked up holds it");
                    return;
                }
            }
            open(turn, verb, wanted.args());
        }
    }

    private static boolean answered(Exchange exchange) {
        return exchange.wanted().tool().equals(TOOL) && exchange.result().startsWith("{");
    }

    private static void refuse(TransitionBuilder turn, Pursue verb, Problem problem, String why) {
        PursueHandler.tell(turn, verb, problem.word() + ": " + why, null, problem == Problem.REFUSED);
    }

    private static void open(TransitionBuilder turn, Pursue verb, JsonNode args) {
        ObjectNode choices = Json.object();
        if (args.has("candidates")) {
            choices.set(ANSWER, args.path("candidates"));
        }
        ObjectNode form = ApproveHandler.form(turn, Shape.Fields.of(Map.of(ANSWER, Shape.TEXT)), choices);
        if (form != null) {
            open(
                    turn,
                    verb,
                    turn.agent().title() + " asks: " + args.path("question").asString(""),
                    asked(form));
        }
    }

    /** A question may be answered in words, too. */
    private static ObjectNode asked(ObjectNode form) {
        ObjectNode sheet = Json.object().set("form", form);
        sheet.putObject("feedback").put("left", 1);
        return sheet;
    }

    /** Has people asked whom the page names, or those of its desk; takes the way of a problem when that is nobody. */
    static void open(TransitionBuilder turn, Pursue verb, String question, ObjectNode sheet) {
        Set<String> of = verb.of().isEmpty() ? Set.of(turn.page().desk()) : Whom.of(turn, verb.of());
        if (of == null) {
            return;
        }
        ApprovalRequest request = new ApprovalRequest(
                turn.usage().nextId(),
                turn.step().address(),
                question,
                of,
                Quorum.ANY,
                Set.of(),
                0,
                sheet,
                ASK_WITHIN,
                List.of());
        turn.command(new Command.OpenApproval(request));
        turn.awaitPeople(request.id(), null, "an answer of " + String.join(" or ", new TreeSet<>(of)));
    }

    /** Somebody answered, or nobody did. */
    static void answered(TransitionBuilder turn, Pursue verb, ApprovalClosed closed) {
        if (closed.state() == ApprovalState.EXPIRED) {
            turn.problem(Problem.EXPIRED, "nobody answered in time");
        } else if (closed.state() == ApprovalState.APPROVED) {
            JsonNode said =
                    closed.form() == null ? Json.of("yes") : closed.form().path(ANSWER);
            JsonNode answer = Json.object().set(ANSWER, said);
            PursueHandler.tell(
                    turn, verb, Json.write(answer), new Found(TOOL, TracedValue.of(answer, Origin.PERSON)), false);
        } else {
            ObjectNode answer = Json.object().put("declined", closed.reason());
            PursueHandler.tell(turn, verb, Json.write(answer), null, false);
        }
    }

    /** Somebody answered in words of their own, which are the answer. */
    static void answeredInWords(TransitionBuilder turn, Pursue verb, FeedbackGiven said) {
        JsonNode answer = Json.object().put(ANSWER, said.said());
        PursueHandler.tell(
                turn, verb, Json.write(answer), new Found(TOOL, TracedValue.of(answer, Origin.PERSON)), false);
    }

    /** Whether a value stands in something the run has looked up, was given or was told. */
    private static boolean isKnown(TransitionBuilder turn, String value) {
        Pursuit pursuit = Objects.requireNonNull(turn.memory().pursuit());
        return holds(ModelWork.facts(turn), value)
                || holds(ModelWork.request(turn).path("fields"), value)
                || pursuit.found().stream()
                        .anyMatch(found -> holds(
                                Concealed.hide(
                                        turn.memory().concealed(),
                                        found.answer().value()),
                                value));
    }

    private static boolean holds(JsonNode at, String value) {
        if (at.isContainer()) {
            for (JsonNode inside : at) {
                if (holds(inside, value)) {
                    return true;
                }
            }
            return false;
        }
        return !at.isNull() && at.asString("").equals(value);
    }
}
