package servitor.core.handbook;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Assess;
import servitor.core.handbook.Verb.Await;
import servitor.core.handbook.Verb.Call;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.Verb.Each;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.Follow;
import servitor.core.handbook.Verb.HandOver;
import servitor.core.handbook.Verb.Open;
import servitor.core.handbook.Verb.Pursue;
import servitor.core.handbook.Verb.Tell;

/** How each verb is written in a block, and what is true of every step with it. */
public enum VerbForm {
    CALL(Call.class, Set.of(Trait.SKIPPABLE), "with", "save", "go"),
    OPEN(Open.class, Set.of(Trait.SKIPPABLE), "with", "save", "go"),
    ASSESS(Assess.class, Set.of(Trait.THINKS), "answer", "about", "unsure-below", "remember", "model", "save", "go"),
    DRAFT(
            Draft.class,
            Set.of(Trait.THINKS),
            "about",
            "language",
            "max-words",
            "tone",
            "cite",
            "remember",
            "model",
            "save",
            "go"),
    PURSUE(
            Pursue.class,
            Set.of(Trait.THINKS),
            "tools",
            "answer",
            "plan",
            "looks",
            "of",
            "confirm",
            "questions",
            "limits",
            "model",
            "save",
            "go"),
    READ(Verb.Read.class, Set.of(Trait.SKIPPABLE), "named", "type", "tables", "values", "model", "save", "go"),
    DECIDE(Decide.class, Set.of(), "table", "otherwise", "save"),
    APPROVE(
            Approve.class,
            Set.of(),
            "of",
            "quorum",
            "declines",
            "not",
            "edit",
            "form",
            "choices",
            "for",
            "show",
            "feedback",
            "within",
            "until",
            "remind",
            "valid-while",
            "nobody",
            "save",
            "go"),
    TELL(Tell.class, Set.of(Trait.ACTS, Trait.SKIPPABLE), "by", "text", "unreviewed", "go"),
    SET(Verb.Set.class, Set.of(Trait.SKIPPABLE), "go"),
    AWAIT(Await.class, Set.of(Trait.SKIPPABLE), "named", "type", "until", "within", "save", "go"),
    EACH(
            Each.class,
            Set.of(Trait.ACTS, Trait.SKIPPABLE),
            "as",
            "follow",
            "with",
            "at-once",
            "on-item-trouble",
            "save",
            "go"),
    FOLLOW(Follow.class, Set.of(Trait.ACTS, Trait.SKIPPABLE), "with", "save", "go"),
    HAND_OVER(HandOver.class, Set.of(Trait.ENDS), "why"),
    FINISH(Finish.class, Set.of(Trait.ENDS), "summary");

    /** What is true of every step with a verb. What depends on how a step is written is asked of its {@link Verb}. */
    public enum Trait {
        /** A model works in it: its prose is the instruction, and what it saves are words nobody has read. */
        THINKS,
        /** It may change something outside, whatever it says. */
        ACTS,
        /** People may go on without it after it failed. */
        SKIPPABLE,
        /** The run ends here: no way leads on. */
        ENDS
    }

    private final Class<? extends Verb> type;
    private final Set<Trait> traits;
    private final List<String> keys;

    VerbForm(Class<? extends Verb> type, Set<Trait> traits, String... others) {
        this.type = type;
        this.traits = traits;
        List<String> all = new ArrayList<>(List.of(word()));
        all.addAll(Arrays.asList(others));
        all.addAll(List.of("at-most", "on"));
        this.keys = List.copyOf(all);
    }

    /** The record that steps with this verb hold. */
    public Class<? extends Verb> type() {
        return type;
    }

    /** The verb as pages write it, such as {@code hand-over}. */
    public String word() {
        return Words.of(this);
    }

    /** The keys that may stand in its block, the verb first. */
    public List<String> keys() {
        return keys;
    }

    public boolean is(Trait trait) {
        return traits.contains(trait);
    }

    /** The verb that pages write as {@code word}. */
    public static Optional<VerbForm> of(String word) {
        return Words.find(VerbForm.class, word);
    }
}
