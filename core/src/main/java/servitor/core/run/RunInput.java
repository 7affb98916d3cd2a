package servitor.core.run;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalState;
import servitor.core.consent.Consent;
import servitor.core.document.ReadDocument;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.mandate.Verdict;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.run.RunState.WrittenText;
import tools.jackson.databind.JsonNode;

/** One thing that happened to a run. {@code id} names the command, approval or wait it answers. */
public sealed interface RunInput {

    /** What this answers; empty when it answers nothing in particular. */
    default String id() {
        return "";
    }

    /** The run begins. */
    record Started() implements RunInput {}

    /** The gate judged a proposed call. */
    record Judged(String id, Verdict verdict) implements RunInput {}

    /** A tool answered. */
    record ToolAnswered(String id, JsonNode answer) implements RunInput {}

    /**
     * A tool couldn't do it; provably nothing is left open.
     *
     * @param problem the word of a {@link Problem}, or of one that the tool declares
     */
    record ToolFailed(String id, String problem, String detail) implements RunInput {
        public ToolFailed(String id, Problem problem, String detail) {
            this(id, problem.word(), detail);
        }
    }

    /** A call that must not be repeated may or may not have happened. */
    record ToolInDoubt(String id, String detail) implements RunInput {}

    /**
     * A person says whether a call in doubt happened.
     *
     * @param result what it gave, when it happened
     */
    record Settled(String id, String by, boolean happened, JsonNode result, String reason) implements RunInput {}

    /**
     * A person says what they did by hand where a call was held.
     *
     * @param nothing whether they did nothing of the kind
     * @param inputs what they did it with
     * @param result what it gave
     */
    record DoneByHand(String id, String by, boolean nothing, JsonNode inputs, JsonNode result, String reason)
            implements RunInput {}

    /**
     * A model answered within the contract.
     *
     * @param estimated true when the tokens weren't counted by the model's server; null in inputs of earlier versions
     * @param cost what the tokens cost, in the currency of the house; null where the model has no price
     */
    record ModelAnswered(
            String id,
            String model,
            JsonNode answer,
            int tokens,
            @Nullable Boolean estimated,
            @Nullable BigDecimal cost)
            implements RunInput {
        public ModelAnswered(String id, String model, JsonNode answer, int tokens) {
            this(id, model, answer, tokens, null, null);
        }
    }

    /** A model wants tools to be called before it answers. */
    record ModelCalled(
            String id,
            String model,
            List<Wanted> wanted,
            int tokens,
            @Nullable BigDecimal cost) implements RunInput {
        public ModelCalled(String id, String model, List<Wanted> wanted, int tokens) {
            this(id, model, wanted, tokens, null);
        }
    }

    /** A model couldn't be reached or couldn't keep the contract. */
    record ModelFailed(
            String id,
            Problem problem,
            String detail,
            int tokens,
            @Nullable BigDecimal cost) implements RunInput {
        public ModelFailed(String id, Problem problem, String detail, int tokens) {
            this(id, problem, detail, tokens, null);
        }
    }

    /**
     * People decided, or their time ran out.
     *
     * @param texts texts as they were changed, by their key on the sheet
     * @param form what was filled in; null when there was no form
     * @param forGroups the groups that approved
     * @param by who gave the last answer; empty when nobody did
     * @param writer who changed the texts last; null when nobody did
     * @param given each person's yes, and how they saw what they said it to
     */
    record ApprovalClosed(
            String id,
            ApprovalState state,
            String reason,
            Map<String, String> texts,
            @Nullable JsonNode form,
            Set<String> forGroups,
            String by,
            @Nullable String writer,
            List<Consent.Given> given)
            implements RunInput {
        public ApprovalClosed {
            given = given == null ? List.of() : List.copyOf(given);
        }

        public ApprovalClosed(
                String id,
                ApprovalState state,
                String reason,
                Map<String, String> texts,
                @Nullable JsonNode form,
                Set<String> forGroups,
                String by) {
            this(id, state, reason, texts, form, forGroups, by, by, List.of());
        }

        /** The yes, as it is kept for what was asked about. */
        Consent consent() {
            return new Consent(forGroups, given, null);
        }
    }

    /** A person sent a draft back with what should be different. */
    record FeedbackGiven(String id, String by, String said) implements RunInput {}

    /**
     * A document was read, whatever came of it.
     *
     * @param document its id
     * @param name its name
     */
    record DocumentRead(String id, String document, String name, ReadDocument read) implements RunInput {}

    /** What was waited for has come. */
    record Arrived(String id, TracedValue value) implements RunInput {}

    /**
     * A case that the run's page has opened is done with.
     *
     * @param state it is left in
     * @param gave what its page gave
     */
    record CaseSettled(String id, String caseId, String state, Gave gave) implements RunInput {
        /** What the step keeps of it. */
        TracedValue value() {
            Map<String, TracedValue> fields = new LinkedHashMap<>();
            fields.put("id", TracedValue.of(Json.of(caseId), Origin.LOOKUP));
            fields.put("state", TracedValue.of(Json.of(state), Origin.LOOKUP));
            fields.put("gave", gave.value());
            return TracedValue.fields(fields);
        }
    }

    /**
     * What a page gave.
     *
     * @param written the texts a machine wrote in it
     * @param concealed what models mustn't see of what it learnt
     */
    record Gave(TracedValue value, List<WrittenText> written, List<Concealed> concealed) {
        /** Nothing. */
        public static final Gave NOTHING =
                new Gave(TracedValue.of(Json.object(), Origin.HANDBOOK), List.of(), List.of());

        public Gave {
            written = List.copyOf(written);
            concealed = List.copyOf(concealed);
        }
    }

    /** A timer ran out. */
    record TimeUp(String id) implements RunInput {}

    /** An outside system says that the work it was at is done; {@code id} names the wait. */
    record CalledBack(String id) implements RunInput {}

    /**
     * A page that was followed has ended.
     *
     * @param outcome the state it would have left the case in
     * @param why its last words
     * @param gives what it gives back
     * @param written the texts a machine wrote in it
     * @param concealed what models mustn't see of what it learnt
     */
    record PageEnded(
            String id,
            String outcome,
            String why,
            TracedValue gives,
            List<WrittenText> written,
            List<Concealed> concealed,
            int calls,
            int tokens)
            implements RunInput {}

    /** A person ended the run. */
    record Stopped(String by, String reason) implements RunInput {}

    /** A person paused the run: nothing leaves for it until it is resumed. */
    record Paused(String by, String reason) implements RunInput {}

    /** A person lets a paused run go on. */
    record Resumed(String by) implements RunInput {}

    /** Somebody of the desk tells the agent something in mid-run. */
    record Advised(String by, String text) implements RunInput {}

    /** A person lets a failed run take the step it failed at once more. */
    record Retried(String by, String reason) implements RunInput {}

    /**
     * A person lets a failed run go on behind the step it failed at.
     *
     * @param result what the step would have given; null when it gives nothing
     */
    record Skipped(String by, String reason, @Nullable JsonNode result) implements RunInput {}

    /** A person takes over what a failed run left. */
    record GivenUp(String by, String reason) implements RunInput {}

    /** A person moved the run to another edition. */
    record Moved(String by, int edition) implements RunInput {}
}
