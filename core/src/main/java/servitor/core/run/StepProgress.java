package servitor.core.run;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import servitor.core.consent.Consent;
import servitor.core.consent.Plan;
import servitor.core.document.ReadDocument.Page;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Exchange;
import servitor.core.prompt.Prompt.Wanted;
import tools.jackson.databind.JsonNode;

/**
 * What a run remembers between steps, beside the values it saved.
 *
 * @param drafts which step drafted what is saved under a name
 * @param feedback what people said about earlier versions of a draft, by its name
 * @param rounds how often each approval has been sent back, by step
 * @param approved what people said yes to beforehand, such as a coming call, by its digest; used once
 * @param pursuit how far the pursuit of the current step has come; null when there is none
 * @param items how far the items of the current step have come; null when there are none
 * @param advice what people of the desk told the agent in mid-run
 * @param doubt the call that is being looked up; null when none is
 * @param concealed values that models see only the handles of
 * @param reading what the current step has read of a document so far; null when it reads none
 * @param noted what was noted of the parts of a text that is too long for the model; null when none is read
 * @param conversation what was said with the requester, as far as it is remembered
 * @param sent the call that went out last, with the key it went out under; null before one did, and in states of earlier versions
 * @param job what an outside system is at work on for the current call; null when nothing
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record StepProgress(
        Map<String, String> drafts,
        Map<String, List<Round>> feedback,
        Map<String, Integer> rounds,
        Map<String, Consent> approved,
        @Nullable Pursuit pursuit,
        @Nullable Items items,
        List<Advice> advice,
        @Nullable Doubt doubt,
        List<Concealed> concealed,
        @Nullable Job job,
        @Nullable ReadSoFar reading,
        @Nullable Noted noted,
        @Nullable Conversation conversation,
        @Nullable Sent sent) {
    /** How many versions of a draft its next one is written from. */
    private static final int MOST_ROUNDS = 5;

    static final StepProgress EMPTY = new StepProgress(
            Map.of(), Map.of(), Map.of(), Map.of(), null, null, List.of(), null, List.of(), null, null, null, null,
            null);

    public StepProgress {
        drafts = Map.copyOf(drafts);
        feedback = Map.copyOf(feedback);
        rounds = Map.copyOf(rounds);
        approved = Map.copyOf(approved);
        advice = advice == null ? List.of() : List.copyOf(advice); // states of earlier versions have none
        concealed = concealed == null ? List.of() : List.copyOf(concealed);
    }

    /**
     * A call that went out.
     *
     * @param id of its command
     * @param key what the outside system knows it by
     */
    public record Sent(String id, String key) {}

    /** What somebody of the desk told the agent in mid-run. */
    public record Advice(String by, String text) {}

    /**
     * A call that may have happened, while it is looked up whether it did.
     *
     * @param id the call's key
     * @param answered groups that had approved it
     * @param detail why nobody knows
     */
    public record Doubt(String id, ProposedCall call, Set<String> answered, String detail) {}

    /**
     * Work that an outside system does after it has answered.
     *
     * @param call the call that started it
     * @param id that call's key; empty in states of earlier versions
     * @param answer what it answered at once
     * @param until when it is given up
     */
    public record Job(ProposedCall call, String id, TracedValue answer, Instant until) {
        public Job {
            id = id == null ? "" : id;
        }
    }

    /**
     * A document that a model is asked about.
     *
     * @param value what was found in it without the model
     * @param pages its text, in which the model's words must stand
     * @param answers what the model has said of the parts of that text so far
     */
    public record ReadSoFar(TracedValue value, List<Page> pages, List<JsonNode> answers) {
        public ReadSoFar {
            pages = List.copyOf(pages);
            answers = answers == null ? List.of() : List.copyOf(answers); // states of earlier versions have none
        }

        ReadSoFar and(JsonNode answer) {
            List<JsonNode> all = new ArrayList<>(answers);
            all.add(answer);
            return new ReadSoFar(value, pages, all);
        }
    }

    /** What a model noted of each part of a long text so far. */
    public record Noted(List<JsonNode> parts) {
        public Noted {
            parts = List.copyOf(parts);
        }
    }

    /** What a tool answered a model. */
    public record Found(String tool, TracedValue answer) {}

    /** A version of a draft and what people said about it. */
    public record Round(JsonNode version, String said) {}

    /**
     * A model at work with tools.
     *
     * @param exchanges the calls made so far, with what came of them
     * @param found what those calls answered
     * @param wanted calls the model has asked for and that are still to be made
     * @param refusals how many calls in a row the gate refused
     * @param plan what the model said it would do; null before it said so
     * @param taken the lines of the plan that calls have taken, by their position, each as often as it was
     * @param line the line that the call under way takes; null where it takes none
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Pursuit(
            List<Exchange> exchanges,
            List<Found> found,
            List<Wanted> wanted,
            int calls,
            int tokens,
            int refusals,
            @Nullable Plan plan,
            List<Integer> taken,
            @Nullable Integer line) {
        static final Pursuit BEGUN = new Pursuit(List.of(), List.of(), List.of(), 0, 0, 0, null, List.of(), null);

        public Pursuit {
            exchanges = List.copyOf(exchanges);
            found = found.stream().filter(one -> one.answer() != null).toList(); // earlier versions kept no tools
            wanted = List.copyOf(wanted);
            taken = taken == null ? List.of() : List.copyOf(taken); // pursuits of earlier versions have none
        }

        /** After the first of the wanted calls has come to something. */
        Pursuit told(String result, @Nullable Found answer, boolean refused) {
            List<Exchange> more = new ArrayList<>(exchanges);
            more.add(new Exchange(wanted.get(0), result));
            List<Found> all = new ArrayList<>(found);
            if (answer != null) {
                all.add(answer);
            }
            return new Pursuit(
                    more,
                    all,
                    wanted.subList(1, wanted.size()),
                    calls + 1,
                    tokens,
                    refused ? refusals + 1 : 0,
                    plan,
                    taken,
                    null);
        }

        /** After the model has asked for calls. */
        Pursuit wants(List<Wanted> more, int used) {
            return new Pursuit(exchanges, found, more, calls, tokens + used, refusals, plan, taken, null);
        }

        /** After the model has said what it means to do from here on; null before it says so again. */
        Pursuit planned(@Nullable Plan said, int used) {
            return new Pursuit(exchanges, found, wanted, calls, tokens + used, refusals, said, List.of(), null);
        }

        /** With one more line at the end of its plan; what was taken of it stays taken. */
        Pursuit widened(Plan wider) {
            return new Pursuit(exchanges, found, wanted, calls, tokens, refusals, wider, taken, null);
        }

        /** With a call under way that takes a line of the plan. */
        Pursuit takes(int at) {
            List<Integer> more = new ArrayList<>(taken);
            more.add(at);
            return new Pursuit(exchanges, found, wanted, calls, tokens, refusals, plan, more, at);
        }

        /** After a call that acts was sent: whatever comes of it, its line stays taken. */
        Pursuit sent() {
            return new Pursuit(exchanges, found, wanted, calls, tokens, refusals, plan, taken, null);
        }

        /** After the call under way came to nothing: its line can be taken again. */
        Pursuit givesBack() {
            List<Integer> less = new ArrayList<>(taken);
            less.remove(line);
            return new Pursuit(exchanges, found, wanted, calls, tokens, refusals, plan, less, null);
        }
    }

    /**
     * A page followed for each item of a list.
     *
     * @param all the items
     * @param next the first that hasn't been started
     * @param running the items whose pages are under way, by the command that started them
     * @param reserved what those may use
     * @param ended what came of the items that have ended, by their position
     */
    public record Items(
            TracedValue all,
            int next,
            Map<String, Integer> running,
            Map<String, RunState.Allowance> reserved,
            Map<Integer, JsonNode> ended,
            Set<Integer> written) {
        public Items {
            running = Map.copyOf(running);
            reserved = Map.copyOf(reserved);
            ended = Map.copyOf(ended);
            written = Set.copyOf(written);
        }
    }

    StepProgress advised(Advice more) {
        return change(next -> next.advice.add(more));
    }

    StepProgress sent(Sent now) {
        return change(next -> next.sent = now);
    }

    StepProgress doubting(@Nullable Doubt now) {
        return change(next -> next.doubt = now);
    }

    StepProgress reading(@Nullable ReadSoFar now) {
        return change(next -> next.reading = now);
    }

    /** What was said with the requester so far. */
    @Override
    public Conversation conversation() {
        return conversation == null ? Conversation.NONE : conversation;
    }

    StepProgress saying(Conversation now) {
        return change(next -> next.conversation = now);
    }

    StepProgress noted(@Nullable Noted now) {
        return change(next -> next.noted = now);
    }

    StepProgress atWork(@Nullable Job now) {
        return change(next -> next.job = now);
    }

    StepProgress drafted(String name, String step) {
        return change(next -> next.drafts.put(name, step));
    }

    StepProgress said(String name, Round round) {
        List<Round> all = new ArrayList<>(feedback.getOrDefault(name, List.of()));
        all.add(round);
        if (all.size() > MOST_ROUNDS) {
            all.remove(0);
        }
        return change(next -> next.feedback.put(name, all));
    }

    StepProgress sentBack(String step) {
        return change(next -> next.rounds.merge(step, 1, Integer::sum));
    }

    StepProgress approved(String digest, Consent consent) {
        return change(next -> next.approved.put(digest, consent));
    }

    StepProgress used(String digest) {
        return change(next -> next.approved.remove(digest));
    }

    StepProgress pursuing(@Nullable Pursuit now) {
        return change(next -> next.pursuit = now);
    }

    StepProgress itemsAt(@Nullable Items now) {
        return change(next -> next.items = now);
    }

    /** With more concealed values; those that are known keep their handles. */
    StepProgress conceals(List<Concealed> more) {
        return change(next -> more.stream()
                .filter(one ->
                        next.concealed.stream().noneMatch(known -> known.value().equals(one.value())))
                .forEach(next.concealed::add));
    }

    private StepProgress change(Consumer<Builder> change) {
        Builder next = new Builder(this);
        change.accept(next);
        return next.build();
    }

    /** What is to be remembered next: as before, but for what is changed. */
    private static final class Builder {
        private final Map<String, String> drafts;
        private final Map<String, List<Round>> feedback;
        private final Map<String, Integer> rounds;
        private final Map<String, Consent> approved;
        private @Nullable Pursuit pursuit;
        private @Nullable Items items;
        private final List<Advice> advice;
        private @Nullable Doubt doubt;
        private final List<Concealed> concealed;
        private @Nullable Job job;
        private @Nullable ReadSoFar reading;
        private @Nullable Noted noted;
        private @Nullable Conversation conversation;
        private @Nullable Sent sent;

        Builder(StepProgress before) {
            drafts = new LinkedHashMap<>(before.drafts);
            feedback = new LinkedHashMap<>(before.feedback);
            rounds = new LinkedHashMap<>(before.rounds);
            approved = new LinkedHashMap<>(before.approved);
            pursuit = before.pursuit;
            items = before.items;
            advice = new ArrayList<>(before.advice);
            doubt = before.doubt;
            concealed = new ArrayList<>(before.concealed);
            job = before.job;
            reading = before.reading;
            noted = before.noted;
            conversation = before.conversation;
            sent = before.sent;
        }

        StepProgress build() {
            return new StepProgress(
                    drafts,
                    feedback,
                    rounds,
                    approved,
                    pursuit,
                    items,
                    advice,
                    doubt,
                    concealed,
                    job,
                    reading,
                    noted,
                    conversation,
                    sent);
        }
    }
}
