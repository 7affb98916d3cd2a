package servitor.core.handbook;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;
import servitor.core.shape.Shape;

/** What a step does: exactly one of these. A new verb is a record here, a reader, a handler and an explainer line. */
public sealed interface Verb {

    /** The name the step saves its result under; null when it saves nothing. */
    default @Nullable String save() {
        return null;
    }

    /** One tool with the inputs given here. */
    record Call(String tool, Template inputs, @Nullable String save) implements Verb {}

    /**
     * A model answers the question in the step's prose.
     *
     * @param answer what the answer looks like
     * @param about what the model sees; null for the case and everything saved
     * @param unsureBelow below this sureness (0 to 1) the way {@code unsure} is taken; null for never
     * @param ways where to go: {@code sure}, {@code unsure}
     */
    record Assess(
            Shape answer,
            @Nullable Template about,
            @Nullable Double unsureBelow,
            String save,
            Map<String, String> ways) implements Verb {}

    /** Ordered conditions; the first that holds gives the way on. */
    record Decide(List<Branch> branches, String otherwise) implements Verb {}

    record Branch(Expression when, String go) {}

    /**
     * A model writes text by the step's prose.
     *
     * @param languages one gives a text, several give a map of texts by language
     * @param cite whether the model must name which of the facts it used
     */
    record Draft(List<Template> languages, int maxWords, String tone, boolean cite, String save) implements Verb {}

    /**
     * A model works toward the goal in the step's prose with tools.
     *
     * @param tools what it may call, with the inputs that are fixed here
     * @param plan whether it says beforehand what it means to do, and whether people approve that
     * @param of who approves the plan
     * @param calls how many calls it may make
     * @param tokens how many model tokens it may use
     */
    record Pursue(List<Offer> tools, Shape answer, Plan plan, List<Template> of, int calls, int tokens, String save)
            implements Verb {}

    /** A tool a model may call, and the inputs it can't choose. */
    record Offer(String tool, Template fixed) {}

    /** How a plan is treated. */
    enum Plan {
        NONE,
        SHOW,
        APPROVE
    }

    /**
     * People are asked.
     *
     * @param of who may answer: names of groups or desks, or expressions that give a person
     * @param quorum how many have to approve
     * @param not who may not answer
     * @param edit the saved text they may change; null when nothing can be edited
     * @param form what they fill in; null for nothing
     * @param choices per field of the form, the values to choose among: texts, or maps of {@code value} and {@code title}
     * @param forStep the step whose call this asks about; null when it isn't about one
     * @param show further saved names the sheet shows
     * @param rounds how many times they may send a draft back with feedback
     * @param within how long they have; null for no limit
     * @param remind shares of that time (0 to 1) after which they are reminded
     * @param ways where each answer leads: {@code approved declined expired exhausted}
     */
    record Approve(
            Template question,
            List<Template> of,
            Quorum quorum,
            List<Template> not,
            @Nullable String edit,
            Shape.@Nullable Fields form,
            Template choices,
            @Nullable String forStep,
            List<String> show,
            int rounds,
            @Nullable Duration within,
            List<Double> remind,
            @Nullable String save,
            Map<String, String> ways)
            implements Verb {}

    /**
     * Sends text to the requester through the gate.
     *
     * @param by the channel
     * @param unreviewed why no person needs to have seen the text; null when one must
     */
    record Tell(Template text, String by, @Nullable String unreviewed) implements Verb {}

    /** Changes the case: {@code state}, {@code priority}, {@code labels}, {@code fields}, {@code relations}. */
    record Set(Template changes) implements Verb {}

    /**
     * Waits.
     *
     * @param named which event, or a word the document's name must hold; empty for any
     * @param until for a time: when; null when {@code within} says how long
     * @param within how long at most; null for no limit
     * @param ways where to go: {@code arrived}, {@code expired}
     */
    record Await(
            Awaited what,
            String named,
            @Nullable Template until,
            @Nullable Duration within,
            @Nullable String save,
            Map<String, String> ways)
            implements Verb {}

    /** What can be waited for. */
    enum Awaited {
        REPLY,
        DOCUMENT,
        EVENT,
        TIME;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /**
     * Follows another page for every item of a list.
     *
     * @param as the name of the item that {@code with} can read
     * @param atOnce how many run at the same time
     * @param onTrouble what an item that ends in trouble does to the others
     */
    record Each(
            Template in,
            String as,
            String page,
            Template with,
            int atOnce,
            OnTrouble onTrouble,
            @Nullable String save) implements Verb {}

    /** What an item in trouble does: to the items after it, or to the whole step once all have ended. */
    enum OnTrouble {
        /** No further items are started; the step meets the problem {@code trouble}. */
        STOP,
        /** The others go on, and so does the page. */
        SKIP,
        /** The others go on; then people take the case over. */
        HAND_OVER
    }

    /** Another page, with inputs. That page's own agent and mandate apply. */
    record Follow(String page, Template with, @Nullable String save) implements Verb {}

    /** Gives the case to people. */
    record HandOver(@Nullable String to, Template why) implements Verb {}

    /** Ends the run and leaves the case in {@code state}. */
    record Finish(String state, @Nullable Template summary) implements Verb {}
}
