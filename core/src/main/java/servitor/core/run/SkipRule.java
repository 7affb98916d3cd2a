package servitor.core.run;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.handbook.VerbForm;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;

/**
 * When a person may let a run go on behind a step it failed at. Never past a question to people or a choice of ways: what
 * follows rests on the answer. And never without what later steps read.
 */
public final class SkipRule {
    private SkipRule() {}

    /** Why the step can't be skipped like that; empty when it can. */
    public static Optional<String> fault(Handbook handbook, RunState run, @Nullable JsonNode result) {
        Step step = handbook.page(run.page()).step(run.step()).orElseThrow();
        Verb verb = step.verb();
        String title = "‘" + step.title() + "’";
        if (!step.is(VerbForm.Trait.SKIPPABLE)) {
            return Optional.of(
                    title + " can't be skipped: what follows rests on its answer. Retry it or take the case over.");
        }
        if (verb.save() == null) {
            return result == null ? Optional.empty() : Optional.of(title + " gives nothing, so there is no result.");
        }
        if (!(verb instanceof Verb.Call call)) {
            return Optional.of(title + " gives ‘" + verb.save()
                    + "’, which nobody but the step can give. Retry it or take the case over.");
        }
        if (result == null) {
            return Optional.of(title + " gives ‘" + verb.save() + "’: skip it with the result it would have had.");
        }
        Tool tool = handbook.tool(call.tool());
        List<String> violations = Schemas.violations(tool.outputs(), result);
        return violations.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        "‘result’ isn't what ‘" + tool.name() + "’ answers: " + String.join("; ", violations) + ".");
    }
}
