package servitor.core.handbook;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;

/** What a step does: exactly one of these. A new verb is a record here, a reader, a handler and an explainer line. */
public sealed interface Verb {

    /** One tool with the inputs given here. */
    record Call(String tool, Template inputs, @Nullable String save) implements Verb {}

    /** Ordered conditions; the first that holds gives the way on. */
    record Decide(List<Branch> branches, String otherwise) implements Verb {}

    record Branch(Expression when, String go) {}

    /** A model writes text by the step's prose. */
    record Draft(@Nullable Template language, int maxWords, String tone, String save) implements Verb {}

    /**
     * People are asked.
     *
     * @param of the groups that may answer
     * @param edit the saved text they may change; null when nothing can be edited
     * @param show further saved names the sheet shows
     * @param within how long they have; null for no limit
     * @param ways where each answer leads: {@code approved declined expired}
     */
    record Approve(
            Template question,
            List<String> of,
            @Nullable String edit,
            List<String> show,
            @Nullable Duration within,
            @Nullable String save,
            Map<String, String> ways)
            implements Verb {}

    /** Sends text to the requester through the gate. {@code unreviewed} says why no person needs to have seen it. */
    record Tell(Template text, @Nullable String unreviewed) implements Verb {}

    /** Changes the case: {@code priority}, {@code labels}, {@code fields}. */
    record Set(Template changes) implements Verb {}

    /** Gives the case to people. */
    record HandOver(@Nullable String to, Template why) implements Verb {}

    /** Ends the run and leaves the case in {@code state}. */
    record Finish(String state, @Nullable Template summary) implements Verb {}
}
