package servitor.core.handbook;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import tools.jackson.databind.JsonNode;

/**
 * A described case, what the world outside says to it, and what must come of it: a file of {@code rehearsals/}. It is played on the
 * machine that runs are played on, without any effect.
 *
 * @param cues what the world says, in the order it says it; each counts once
 */
public record Rehearsal(String name, String title, About about, List<Cue> cues, Must must, Places places) {
    public Rehearsal {
        cues = List.copyOf(cues);
    }

    /** Where the file begins. */
    public Place place() {
        return places.top();
    }

    /**
     * The case.
     *
     * @param page the page that is started; null for the one that its kind starts
     * @param at when it is opened
     */
    public record About(
            String kind,
            @Nullable String page,
            String subject,
            String text,
            String language,
            String channel,
            String priority,
            JsonNode fields,
            List<String> labels,
            Requester requester,
            List<Paper> documents,
            Instant at) {
        public About {
            labels = List.copyOf(labels);
            documents = List.copyOf(documents);
        }
    }

    /** Whose case it is; {@code proof} says how sure we are of that. */
    public record Requester(String id, String name, String account, String manager, Set<String> groups, String proof) {
        public Requester {
            groups = Set.copyOf(groups);
        }
    }

    /**
     * A document of the case, by what stands in it.
     *
     * @param outcome what comes of reading it
     */
    public record Paper(
            String name, String type, ReadOutcome outcome, List<String> pages, List<ReadDocument.Table> tables) {
        public Paper {
            pages = List.copyOf(pages);
            tables = List.copyOf(tables);
        }

        /** What is read of it. */
        public ReadDocument read() {
            List<ReadDocument.Page> read = new ArrayList<>();
            pages.forEach(text -> read.add(new ReadDocument.Page(read.size() + 1, text)));
            return outcome == ReadOutcome.TEXT
                    ? new ReadDocument(outcome, type, "", read, tables)
                    : ReadDocument.nothing(outcome, type, "");
        }
    }

    /** One thing that the world outside says. */
    public sealed interface Cue {
        /** Where it stands in the file. */
        Place place();

        /** What it answers, in words that follow "the answer of". */
        String words();
    }

    /** What comes back from a tool or a model. */
    public sealed interface Result {}

    /** It answered. */
    public record Gives(JsonNode value) implements Result {}

    /** It couldn't, with a problem that pages may have a way for. */
    public record Fails(String problem, String detail) implements Result {}

    /** Nobody knows whether it happened. */
    public record Doubt(String detail) implements Result {}

    /** No answer comes while anybody waits for it. */
    public record Silent() implements Result {}

    /** A model wants these calls first. */
    public record Calls(List<CallOf> calls) implements Result {
        public Calls {
            calls = List.copyOf(calls);
        }
    }

    /** A call of a tool; {@code with} holds the inputs that are named, or none. */
    public record CallOf(String tool, JsonNode with, Place place) {}

    /**
     * What a tool answers.
     *
     * @param with the inputs the call must have; it may have others beside
     * @param again whether it says so each time
     * @param after how long it takes
     */
    public record ToolSays(String tool, JsonNode with, Result result, boolean again, Duration after, Place place)
            implements Cue {
        @Override
        public String words() {
            return "the tool ‘" + tool + "’";
        }
    }

    /**
     * What a model answers at a step, by its heading.
     *
     * @param tokens that it takes
     * @param after how long it takes
     */
    public record ModelSays(String step, Result result, int tokens, Duration after, Place place) implements Cue {
        /** Tokens that a result takes of which nothing else is said: none, where no answer came. */
        public static int usual(Result result) {
            return result instanceof Fails || result instanceof Silent ? 0 : 100;
        }

        @Override
        public String words() {
            return "the model at ‘" + step + "’";
        }
    }

    /**
     * What people answer when they are asked at a step, by its heading, what they say there of a call in doubt, or do about a run that
     * failed there.
     *
     * @param says one of {@link #ANSWERS}, of {@link #SETTLES} of a call in doubt, or of {@link #MENDS} where a run failed
     * @param form as they fill it in, or what a call gave that happened, or a step that is skipped would have given
     * @param after how long it takes them; of {@link #NOTHING} when it is looked at whether it still has to be asked
     */
    public record PeopleSay(
            String step,
            String says,
            String by,
            String reason,
            Map<String, String> texts,
            @Nullable JsonNode form,
            Duration after,
            Place place)
            implements Cue {
        /** They let their time pass. */
        public static final String NOTHING = "nothing";

        /** The call in doubt happened. */
        public static final String HAPPENED = "happened";

        /** The call in doubt didn't happen, and may be sent again. */
        public static final String NOT_HAPPENED = "not-happened";

        /** The run goes on behind the step it failed at. */
        public static final String SKIP = "skip";

        /** What they say who are asked. */
        public static final List<String> ANSWERS = List.of("approve", "decline", "feedback", NOTHING);

        /** What they say of a call in doubt. */
        public static final List<String> SETTLES = List.of(HAPPENED, NOT_HAPPENED);

        /** What they do about a step that failed. */
        public static final List<String> MENDS = List.of("retry", SKIP, "take-over");

        public PeopleSay {
            texts = Map.copyOf(texts);
        }

        /** Whether nothing is said. */
        public boolean keepsSilent() {
            return says.equals(NOTHING);
        }

        /** Whether they say it who are asked. */
        public boolean answers() {
            return ANSWERS.contains(says);
        }

        /** Whether it is said of a call in doubt. */
        public boolean settles() {
            return SETTLES.contains(says);
        }

        /** Whether it is done about a step that failed. */
        public boolean mends() {
            return MENDS.contains(says);
        }

        /** Whether it says what something gives that no tool was asked. */
        public boolean gives() {
            return says.equals(HAPPENED) || says.equals(SKIP);
        }

        @Override
        public String words() {
            return "people at ‘" + step + "’";
        }
    }

    /**
     * What people do with nobody asking them.
     *
     * @param does one of {@link #DOES}
     * @param at the heading of the step that the run is at
     * @param which of several runs that are there, in the order in which they began; from 1
     * @param says why, how, or what they tell the agent
     * @param after how long after the case was opened
     */
    public record Unasked(String does, String at, int which, String by, String says, Duration after, Place place)
            implements Cue {
        /** The case is done with: people did the rest. */
        public static final String RESOLVE = "resolve";

        /** Whoever asked takes it back. */
        public static final String WITHDRAW = "withdraw";

        /** What they may do. */
        public static final List<String> DOES = List.of("pause", "resume", "advise", "stop", RESOLVE, WITHDRAW);

        public Unasked {
            if (which < 1) {
                throw new IllegalArgumentException("which of the runs is counted from 1, not " + which);
            }
        }

        /** Whether nothing more is done for the case. */
        public boolean closes() {
            return does.equals(RESOLVE) || does.equals(WITHDRAW);
        }

        @Override
        public String words() {
            return by + " unasked, ‘" + does + "’";
        }
    }

    /**
     * What comes while the case waits for it, or while it does something else.
     *
     * @param what {@code reply}, {@code document}, {@code event}, or {@code case} for the end of a case that was opened
     * @param named the event, the document's name, or the state the case is left in; empty for a reply
     * @param paper the document that comes; null for anything else
     * @param unawaited whether nobody waits for it
     * @param after how long the case has waited by then; how long it is open where nobody waits
     */
    public record Comes(
            String what,
            String named,
            JsonNode value,
            @Nullable Paper paper,
            boolean unawaited,
            Duration after,
            Place place)
            implements Cue {
        @Override
        public String words() {
            return "the " + what + (named.isEmpty() ? "" : " ‘" + named + "’");
        }
    }

    /**
     * What must hold in the end. What isn't said isn't looked at.
     *
     * @param end the state the case is left in; null for any
     * @param steps headings that were passed in this order, others between them
     * @param calls that were sent
     * @param never tools that weren't called
     * @param verdicts what the mandate said of a tool's calls, by the tool
     * @param told words that were told somebody
     * @param asked groups, or people by {@code person:ID}, who were asked
     * @param most the most that may be used, by {@code calls}, {@code tokens} and {@code approvals}
     */
    public record Must(
            @Nullable String end,
            List<String> steps,
            List<CallOf> calls,
            List<String> never,
            Map<String, String> verdicts,
            List<String> told,
            List<String> asked,
            Map<String, Integer> most) {
        public Must {
            steps = List.copyOf(steps);
            calls = List.copyOf(calls);
            never = List.copyOf(never);
            verdicts = Map.copyOf(verdicts);
            told = List.copyOf(told);
            asked = List.copyOf(asked);
            most = Map.copyOf(most);
        }
    }
}
