package servitor.core.run;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
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
 * @param approved calls that people approved beforehand: the groups that did, by the call's digest; used once
 * @param pursuit how far the pursuit of the current step has come; null when there is none
 * @param items how far the items of the current step have come; null when there are none
 * @param advice what people of the desk told the agent in mid-run
 * @param doubt the call that is being looked up; null when none is
 * @param concealed values that models see only the handles of
 * @param job what an outside system is at work on for the current call; null when nothing
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record StepProgress(
        Map<String, String> drafts,
        Map<String, List<Round>> feedback,
        Map<String, Integer> rounds,
        Map<String, Set<String>> approved,
        @Nullable Pursuit pursuit,
        @Nullable Items items,
        List<Advice> advice,
        @Nullable Doubt doubt,
        List<Concealed> concealed,
        @Nullable Job job) {
    /** How many versions of a draft its next one is written from. */
    private static final int MOST_ROUNDS = 5;

    static final StepProgress EMPTY =
            new StepProgress(Map.of(), Map.of(), Map.of(), Map.of(), null, null, List.of(), null, List.of(), null);

    public StepProgress {
        drafts = Map.copyOf(drafts);
        feedback = Map.copyOf(feedback);
        rounds = Map.copyOf(rounds);
        approved = Map.copyOf(approved);
        advice = advice == null ? List.of() : List.copyOf(advice); // states of earlier versions have none
        concealed = concealed == null ? List.of() : List.copyOf(concealed);
    }

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
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Pursuit(
            List<Exchange> exchanges,
            List<Found> found,
            List<Wanted> wanted,
            int calls,
            int tokens,
            int refusals,
            @Nullable JsonNode plan) {
        static final Pursuit BEGUN = new Pursuit(List.of(), List.of(), List.of(), 0, 0, 0, null);

        public Pursuit {
            exchanges = List.copyOf(exchanges);
            found = found.stream().filter(one -> one.answer() != null).toList(); // earlier versions kept no tools
            wanted = List.copyOf(wanted);
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
                    more, all, wanted.subList(1, wanted.size()), calls + 1, tokens, refused ? refusals + 1 : 0, plan);
        }

        /** After the model has asked for calls. */
        Pursuit wants(List<Wanted> more, int used) {
            return new Pursuit(exchanges, found, more, calls, tokens + used, refusals, plan);
        }

        /** After the model has said what it means to do. */
        Pursuit planned(JsonNode said, int used) {
            return new Pursuit(exchanges, found, wanted, calls, tokens + used, refusals, said);
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
        List<Advice> all = new ArrayList<>(advice);
        all.add(more);
        return new StepProgress(drafts, feedback, rounds, approved, pursuit, items, all, doubt, concealed, job);
    }

    StepProgress doubting(@Nullable Doubt now) {
        return new StepProgress(drafts, feedback, rounds, approved, pursuit, items, advice, now, concealed, job);
    }

    StepProgress atWork(@Nullable Job now) {
        return new StepProgress(drafts, feedback, rounds, approved, pursuit, items, advice, doubt, concealed, now);
    }

    StepProgress drafted(String name, String step) {
        return new StepProgress(
                with(drafts, name, step), feedback, rounds, approved, pursuit, items, advice, doubt, concealed, job);
    }

    StepProgress said(String name, Round round) {
        List<Round> all = new ArrayList<>(feedback.getOrDefault(name, List.of()));
        all.add(round);
        if (all.size() > MOST_ROUNDS) {
            all.remove(0);
        }
        return new StepProgress(
                drafts, with(feedback, name, all), rounds, approved, pursuit, items, advice, doubt, concealed, job);
    }

    StepProgress sentBack(String step) {
        return new StepProgress(
                drafts,
                feedback,
                with(rounds, step, rounds.getOrDefault(step, 0) + 1),
                approved,
                pursuit,
                items,
                advice,
                doubt,
                concealed,
                job);
    }

    StepProgress approved(String digest, Set<String> groups) {
        return new StepProgress(
                drafts,
                feedback,
                rounds,
                with(approved, digest, groups),
                pursuit,
                items,
                advice,
                doubt,
                concealed,
                job);
    }

    StepProgress used(String digest) {
        Map<String, Set<String>> left = new LinkedHashMap<>(approved);
        left.remove(digest);
        return new StepProgress(drafts, feedback, rounds, left, pursuit, items, advice, doubt, concealed, job);
    }

    StepProgress pursuing(@Nullable Pursuit now) {
        return new StepProgress(drafts, feedback, rounds, approved, now, items, advice, doubt, concealed, job);
    }

    StepProgress itemsAt(@Nullable Items now) {
        return new StepProgress(drafts, feedback, rounds, approved, pursuit, now, advice, doubt, concealed, job);
    }

    /** With more concealed values; those that are known keep their handles. */
    StepProgress conceals(List<Concealed> more) {
        List<Concealed> all = new ArrayList<>(concealed);
        more.stream()
                .filter(one -> all.stream().noneMatch(known -> known.value().equals(one.value())))
                .forEach(all::add);
        return new StepProgress(drafts, feedback, rounds, approved, pursuit, items, advice, doubt, all, job);
    }

    private static <V> Map<String, V> with(Map<String, V> map, String key, V value) {
        Map<String, V> more = new LinkedHashMap<>(map);
        more.put(key, value);
        return more;
    }
}
