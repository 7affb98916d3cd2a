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
     * @param after how long it takes
     */
    public record ModelSays(String step, Result result, Duration after, Place place) implements Cue {
        @Override
        public String words() {
            return "the model at ‘" + step + "’";
        }
    }

    /**
     * What people answer when they are asked at a step, by its heading, or what they say there of a call in doubt.
     *
     * @param says {@code approve}, {@code decline} or {@code feedback}, or {@code nothing} until their time is up; of a call in doubt
     *     {@code happened} or {@code not-happened}
     * @param form as they fill it in, or what a call gave that happened
     * @param after how long it takes them
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

        public PeopleSay {
            texts = Map.copyOf(texts);
        }

        /** Whether nothing is said. */
        public boolean keepsSilent() {
            return says.equals(NOTHING);
        }

        /** Whether it is said of a call in doubt. */
        public boolean settles() {
            return says.equals(HAPPENED) || says.equals(NOT_HAPPENED);
        }

        @Override
        public String words() {
            return "people at ‘" + step + "’";
        }
    }

    /**
     * What comes while the case waits for it.
     *
     * @param what {@code reply}, {@code document}, {@code event}, or {@code case} for the end of a case that was opened
     * @param named the event, the document's name, or the state the case is left in; empty for a reply
     * @param paper the document that comes; null for anything else
     * @param after how long the case has waited by then
     */
    public record Comes(
            String what,
            String named,
            JsonNode value,
            @Nullable Paper paper,
            Duration after,
            Place place) implements Cue {
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
