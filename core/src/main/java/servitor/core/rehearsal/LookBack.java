package servitor.core.rehearsal;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.PriorityQueue;
import org.jspecify.annotations.Nullable;
import servitor.core.engine.MemoryLedger;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt;
import servitor.core.run.RunInput;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * Decides past cases again by another edition, with the answers that were given then. Cases are given in the order in which they were opened, and
 * what happens in several of them happens in the order of its times, so that what limits count is counted as it would have been.
 */
public final class LookBack {
    /** As many are kept in memory; in order come those alone that are under way at the same time. */
    static final int MOST_UNDER_WAY = 500;

    private final Edition by;
    private final MemoryLedger.Counters counters;
    private final int most;
    private final PriorityQueue<UnderWay> underWay =
            new PriorityQueue<>(Comparator.comparing(UnderWay::next).thenComparing(UnderWay::place));
    private final List<Decided> decided = new ArrayList<>();

    /** A look back by one edition, when nothing of any limit is used. */
    public LookBack(Edition by) {
        this(by, new MemoryLedger.Counters());
    }

    /** A look back by one edition, where this much of limits is used. */
    public LookBack(Edition by, MemoryLedger.Counters counters) {
        this(by, counters, MOST_UNDER_WAY);
    }

    /** The same, with at most so many cases under way. */
    LookBack(Edition by, MemoryLedger.Counters counters, int most) {
        this.by = by;
        this.counters = counters.copy();
        this.most = most;
    }

    /**
     * A case that is being decided again.
     *
     * @param next when something happens in it
     * @param place where on the trail that was: of what happened at the same time, one thing was first
     */
    private record UnderWay(
            Instant next, long place, Past past, Recording.Made recorded, Rehearsing play, boolean asksAgain) {
        UnderWay at(Instant when) {
            return new UnderWay(when, play.place(), past, recorded, play, asksAgain);
        }
    }

    /**
     * A case that has been decided again.
     *
     * @param from what was used of the limits it met
     */
    public record Decided(Past past, Made made, MemoryLedger.Counters from) {}

    /**
     * A case of the past.
     *
     * @param about it as it was opened
     * @param then the handbook that its runs were on
     * @param state it was left in
     */
    public record Past(
            String caseId,
            About about,
            Handbook then,
            List<RecordedEntry> trail,
            String state,
            Recording.Papers papers,
            Texts texts) {
        public Past {
            trail = List.copyOf(trail);
        }
    }

    /** Long texts that a trail refers to. */
    public interface Texts {
        /** The text of a digest; null when it isn't to be had. */
        @Nullable
        String of(String digest);
    }

    /** Models that may be asked again. */
    public interface Models {
        /** What a model says to a prompt at a step of an agent; empty when no more may be asked. */
        Optional<RunInput> ask(String id, Prompt prompt, String agent, String step);
    }

    /** What the other edition makes of a case. */
    public sealed interface Made {
        /** The play, to be looked at beside what was. */
        Played played();
    }

    /** It decides the same. */
    public record Same(Played played) implements Made {}

    /**
     * It goes another way.
     *
     * @param step the first where it does
     * @param before what was decided there then
     * @param after what would be decided now
     * @param sort what the difference comes to
     * @param end the state the case would be left in, as far as that is known; empty when it isn't
     */
    public record Other(String step, String before, String after, Sort sort, String end, Played played)
            implements Made {}

    /** What another way comes to. */
    public enum Sort {
        /** Something is done with nobody asked. */
        ALONE,
        /** People are asked. */
        ASKED,
        /** Something is refused. */
        REFUSED,
        /** Somebody is told something else. */
        TOLD,
        /** People take it over. */
        PEOPLE,
        /** It takes another step, or calls something else. */
        WAY;

        /** Its word, for programs and people. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        static Sort of(Decision after) {
            return switch (after.what()) {
                case VERDICT ->
                    after.key().contains(DENIED) ? REFUSED : after.key().contains(ASKS) ? ASKED : ALONE;
                case APPROVAL_OPENED -> ASKED;
                case HANDED_OVER, CALL_HELD -> PEOPLE;
                case CALL_PROPOSED -> after.words().startsWith("calls ‘case.") ? TOLD : WAY;
                default -> WAY;
            };
        }

        private static final String DENIED = servitor.core.handbook.Decision.DENY.word() + "null";
        private static final String ASKS = servitor.core.handbook.Decision.ASK.word() + "[";
    }

    /**
     * What it would decide isn't known, as somebody was never asked then what they would be asked now.
     *
     * @param prompt that a model would be told instead; null when it isn't about a model
     */
    public record NotKnowable(
            String step,
            String why,
            Played played,
            @Nullable Prompt prompt) implements Made {
        NotKnowable(String step, String why, Played played) {
            this(step, why, played, null);
        }
    }

    /** It broke while it was decided again, which is a fault of ours. */
    public record Broke(RuntimeException why, Played played) implements Made {}

    /** Decides one case again, to its end. */
    public Made decide(Past past) {
        return decide(past, null);
    }

    /** The same, where models may be asked again what they would be told now. */
    public Made decide(Past past, @Nullable Models models) {
        List<Decided> all = new ArrayList<>(take(past, models));
        all.addAll(rest());
        return all.stream()
                .filter(one -> one.past() == past)
                .findFirst()
                .orElseThrow()
                .made();
    }

    /**
     * Takes in the next case. What happens before it was opened happens first.
     *
     * @param models that may be asked again what they would be told now; null for none
     * @return the cases that have come to their end by then
     */
    public List<Decided> take(Past past, @Nullable Models models) {
        goOn(past.about().at());
        while (underWay.size() >= most) {
            decided.addAll(turn());
        }
        Recording.Made recorded =
                Recording.of(past.then(), past.caseId(), "", past.about(), past.trail(), past.state(), past.papers());
        Rehearsing play = Rehearsing.again(
                by,
                recorded.rehearsal(),
                Names.of(past.trail()),
                counters,
                models == null ? null : new Reasking(past, models));
        decided.addAll(goesOn(new UnderWay(past.about().at(), 0, past, recorded, play, models != null)));
        return drained();
    }

    /** Decides to their end all that have been taken in. */
    public List<Decided> rest() {
        goOn(Instant.MAX);
        return drained();
    }

    /** What was decided stays until it is given out, so that a case that can't be begun takes no other with it. */
    private List<Decided> drained() {
        List<Decided> all = List.copyOf(decided);
        decided.clear();
        return all;
    }

    private void goOn(Instant until) {
        while (!underWay.isEmpty() && !underWay.peek().next().isAfter(until)) {
            decided.addAll(turn());
        }
    }

    /** What comes next happens, in whichever case it is; a case that has come to its end by that. */
    private List<Decided> turn() {
        UnderWay one = underWay.remove();
        try {
            one.play().turn();
            return goesOn(one);
        } catch (RuntimeException e) { // the others are decided all the same
            return List.of(new Decided(
                    one.past(), new Broke(e, one.play().played()), one.play().metFirst()));
        }
    }

    private List<Decided> goesOn(UnderWay one) {
        Optional<Instant> next = one.play().when();
        next.ifPresent(at -> underWay.add(one.at(at)));
        return next.isPresent() ? List.of() : List.of(decided(one));
    }

    private static Decided decided(UnderWay one) {
        Made made = made(one.past(), one.recorded(), one.play().played(), one.asksAgain());
        return new Decided(one.past(), made, one.play().metFirst());
    }

    private static Made made(Past past, Recording.Made recorded, Played played, boolean askedAgain) {
        List<List<Decision>> before = Decision.of(past.trail());
        List<List<Decision>> after = Decision.of(played.trail());
        for (int run = 0; run < Math.max(before.size(), after.size()); run++) {
            List<Decision> was = run < before.size() ? before.get(run) : List.of();
            List<Decision> is = run < after.size() ? after.get(run) : List.of();
            for (int at = 0; at < Math.max(was.size(), is.size()); at++) {
                Decision one = at < was.size() ? was.get(at) : null;
                Decision other = at < is.size() ? is.get(at) : null;
                if (one == null || other == null || !same(one, other, past.texts(), played, askedAgain)) {
                    return different(one, other, recorded, past.texts(), played);
                }
            }
        }
        return new Same(played);
    }

    private static boolean same(Decision before, Decision after, Texts texts, Played played, boolean askedAgain) {
        if (before.sameAs(after)) {
            return true;
        }
        boolean asked = before.what() == TrailWord.MODEL_ASKED
                && after.what() == TrailWord.MODEL_ASKED
                && before.step().equals(after.step());
        if (asked && askedAgain) {
            return true;
        }
        String then = asked ? texts.of(before.key()) : null;
        String now = asked ? played.texts().get(after.key()) : null;
        return then != null && now != null && same(then, now);
    }

    private static boolean same(String then, String now) {
        return Reasking.withoutIds(Json.read(then, JsonNode.class))
                .equals(Reasking.withoutIds(Json.read(now, JsonNode.class)));
    }

    private static Made different(
            @Nullable Decision before, @Nullable Decision after, Recording.Made recorded, Texts texts, Played played) {
        if (after == null) {
            String why = played.faults().isEmpty()
                    ? recorded.left().isEmpty() ? "nobody knows what would have come next" : notKept(recorded)
                    : played.faults().get(0);
            return new NotKnowable(before == null ? "" : before.step(), why, played);
        }
        if (before != null && before.what() == TrailWord.MODEL_ASKED && after.what() == TrailWord.MODEL_ASKED) {
            if (texts.of(before.key()) == null) {
                return new NotKnowable(after.step(), "what the model was told then was moved out, or erased", played);
            }
            return new NotKnowable(
                    after.step(),
                    "the model would be told something else, and what it would answer isn't known",
                    played,
                    prompt(played.texts().get(after.key())));
        }
        if (before == null && !recorded.left().isEmpty()) {
            return new NotKnowable(after.step(), notKept(recorded), played);
        }
        return new Other(
                after.step(),
                before == null ? "ended" : before.words(),
                after.words(),
                Sort.of(after),
                played.faults().isEmpty() ? played.state() : "",
                played);
    }

    private static String notKept(Recording.Made recorded) {
        return "what was done then isn't kept so that it could be done again: " + String.join(", ", recorded.left());
    }

    private static @Nullable Prompt prompt(@Nullable String text) {
        return text == null ? null : Json.read(text, Prompt.class);
    }
}
