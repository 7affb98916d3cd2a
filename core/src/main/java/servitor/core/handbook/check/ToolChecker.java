package servitor.core.handbook.check;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Expression;
import servitor.core.expression.Path;
import servitor.core.expression.Template;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Tool.SettleWith;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.json.Schemas;
import servitor.core.origin.Formats;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

/** Checks a tool: that it can be told from others, that what it says of itself fits its inputs, and that it looks where it may. */
final class ToolChecker {
    private static final int FEWEST_WORDS = 5;

    private final Handbook handbook;
    private final ExpressionRule expressions;
    private final Findings findings;

    ToolChecker(Handbook handbook, ExpressionRule expressions, Findings findings) {
        this.handbook = handbook;
        this.expressions = expressions;
        this.findings = findings;
    }

    void check(Tool tool) {
        for (var schema : List.of(tool.inputs(), tool.outputs())) {
            Schemas.fault(schema)
                    .ifPresent(fault -> findings.error(
                            tool.place(),
                            Code.SCHEMA,
                            "The description of ‘" + tool.name() + "’ holds a schema that isn't JSON Schema: " + fault
                                    + ".",
                            "Mend the schema in the description."));
        }
        if (!(tool.binding() instanceof Binding.BuiltIn)) {
            described(tool);
        }
        boolean sound = Schemas.fault(tool.inputs()).isEmpty();
        for (JsonNode example : sound ? tool.examples() : List.<JsonNode>of()) {
            List<String> faults = Schemas.violations(tool.given(), example);
            if (!faults.isEmpty()) {
                findings.error(
                        tool.place(),
                        Code.EXAMPLE,
                        "An example of ‘" + tool.name() + "’ doesn't fit its inputs: " + String.join("; ", faults)
                                + ".",
                        "Give the inputs as a caller would.");
            }
        }
        if (!(tool.binding() instanceof Binding.PageTool) && !(tool.binding() instanceof Binding.BuiltIn)) {
            tool.identifies().stream().sorted().forEach(input -> formatted(tool, input));
        }
        if (tool.says() != null) {
            says(tool, tool.says());
        } else if (tool.effect().acts() && !(tool.binding() instanceof Binding.BuiltIn)) {
            findings.hint(
                    tool.place(),
                    Code.NO_HEADLINE,
                    "Whoever is asked about ‘" + tool.name() + "’ reads ‘" + tool.title()
                            + "’ and its inputs, and not in a sentence what it does.",
                    "Say it in a line, such as ‘says: \"" + tool.title() + example(tool) + "\"’.");
        }
        if (tool.settleWith() != null) {
            settleWith(tool, tool.settleWith());
        }
        if (tool.job() != null) {
            job(tool, tool.job());
        }
    }

    private static String example(Tool tool) {
        return tool.identifies().stream()
                .filter(input -> tool.canSay(input))
                .sorted()
                .map(input -> " ${args." + input + "}")
                .findFirst()
                .orElse("");
    }

    /** A headline is made of inputs that are known by their types, and of fields of the records they come from. */
    private void says(Tool tool, Template says) {
        for (Template.Placed placed : says.expressions()) {
            Optional<Path> path = placed.expression().asPath();
            boolean ofArgs = path.filter(
                            one -> one.root().equals("args") && one.fields().size() == 1)
                    .isPresent();
            boolean ofRecord = path.filter(one -> one.root().equals(Expression.SOURCES)
                            && one.fields().size() > 1)
                    .isPresent();
            if (!ofArgs && !ofRecord) {
                findings.error(
                        tool.place(),
                        Code.SAYS,
                        "‘says’ of ‘" + tool.name() + "’ holds ‘"
                                + placed.expression().text() + "’, which can't stand in a headline.",
                        "Use inputs, as in ‘${args.amount}’, and fields of the record an input is from, as in ‘${source(args.reference).passenger}’.");
                continue;
            }
            String input = path.get().fields().get(0);
            List<String> inputs = List.copyOf(tool.inputs().path("properties").propertyNames());
            findings.unknown(Code.UNKNOWN_INPUT, input, inputs, tool.place());
            if (ofArgs && inputs.contains(input) && !tool.canSay(input)) {
                findings.error(
                        tool.place(),
                        Code.SAYS,
                        "‘" + input + "’ of ‘" + tool.name() + "’ is free text, which can't stand in a headline.",
                        "Leave it out, or say with ‘formats’ or a pattern what it holds.");
            }
        }
    }

    /** A value that a model proposes is known again by its format alone. */
    private void formatted(Tool tool, String input) {
        if (Formats.of(tool.inputs().path("properties").path(input)).isEmpty()) {
            findings.warning(
                    tool.place(),
                    Code.FORMAT,
                    "‘" + input + "’ of ‘" + tool.name()
                            + "’ says whose record is meant, and declares no format: nothing a model proposes for it is known again.",
                    "Say what it is, and which fields of answers hold the same, as in ‘formats: { " + input + ": "
                            + input + ", answer." + input + ": " + input + " }’.");
        }
    }

    /** The look at a job must only read, and be asked with what is known then. */
    private void job(Tool tool, Tool.Job job) {
        Map<String, Shape> before =
                Map.of("args", Shape.ofSchema(tool.inputs()), "answer", Shape.ofSchema(job.started()));
        Tool look = reading(tool, "job", job.tool(), Code.JOB);
        if (look == null) {
            return;
        }
        asked(tool, "job", look, job.inputs(), before);
        Map<String, Shape> after = new HashMap<>(before);
        after.put("found", Shape.ofSchema(look.outputs()));
        expressions.condition(job.done(), tool.place(), after, List.of());
        if (job.failed() != null) {
            expressions.condition(job.failed(), tool.place(), after, List.of());
        }
        expressions.template(job.result(), key -> tool.place(), after, List.of());
    }

    /** The tool that another names to look something up; null after having said why it can't be. */
    private @Nullable Tool reading(Tool tool, String key, String name, Code code) {
        Tool lookup = handbook.tools().get(name);
        if (lookup == null) {
            findings.unknown(Code.UNKNOWN_TOOL, name, handbook.tools().keySet(), tool.place());
        } else if (lookup.effect() != Effect.READ) {
            findings.error(
                    tool.place(),
                    code,
                    "‘" + lookup.name() + "’ changes something, so ‘" + key + "’ of ‘" + tool.name()
                            + "’ can't look with it.",
                    "Name a tool with ‘effect: read’.");
        }
        return lookup;
    }

    /** A lookup's inputs are known and of the right type, and none is missing. */
    private void asked(Tool tool, String key, Tool lookup, Template given, Map<String, Shape> scope) {
        expressions.template(given, at -> tool.place(), scope, List.of());
        List<String> inputs = List.copyOf(lookup.inputs().path("properties").propertyNames());
        given.fieldNames().forEach(name -> {
            findings.unknown(Code.UNKNOWN_INPUT, name, inputs, tool.place());
            if (inputs.contains(name)) {
                expressions.input(
                        name,
                        given.field(name),
                        lookup.inputs().path("properties").path(name),
                        tool.place(),
                        scope);
            }
        });
        lookup.inputs().path("required").forEach(name -> {
            if (!given.fieldNames().contains(name.asString())) {
                findings.error(
                        tool.place(),
                        Code.MISSING_INPUT,
                        "‘" + key + "’ asks ‘" + lookup.name() + "’ without its input ‘" + name.asString() + "’.",
                        "Add it under ‘with’.");
            }
        });
    }

    /** Models choose tools by their descriptions, and people judge calls by them. */
    private void described(Tool tool) {
        List<String> faults = new ArrayList<>();
        if (tool.description().strip().split("\\s+").length < FEWEST_WORDS) {
            faults.add("its description is too short to choose it by");
        }
        if (tool.examples().isEmpty()) {
            faults.add("it has no example");
        }
        handbook.tools().values().stream()
                .filter(other -> !other.name().equals(tool.name())
                        && other.description()
                                .strip()
                                .equalsIgnoreCase(tool.description().strip()))
                .map(Tool::name)
                .sorted()
                .findFirst()
                .ifPresent(other -> faults.add("it is described like ‘" + other + "’"));
        if (!faults.isEmpty()) {
            findings.warning(
                    tool.place(),
                    Code.VAGUE_TOOL,
                    "‘" + tool.name() + "’ is easily misunderstood: " + String.join(", and ", faults) + ".",
                    "Say in a sentence what it does and when to use it, and give ‘examples’ with inputs.");
        }
    }

    /** The lookup that settles a call in doubt must only read, and be asked with what is known then. */
    private void settleWith(Tool tool, SettleWith settle) {
        Tool lookup = reading(tool, "settle-with", settle.tool(), Code.SETTLE_WITH);
        if (lookup == null) {
            return;
        }
        Map<String, Shape> before = Map.of("args", Shape.ofSchema(tool.inputs()), "key", Shape.TEXT);
        asked(tool, "settle-with", lookup, settle.inputs(), before);
        Map<String, Shape> after = new HashMap<>(before);
        after.put("found", Shape.ofSchema(lookup.outputs()));
        expressions.condition(settle.happened(), tool.place(), after, List.of());
        expressions.template(settle.result(), key -> tool.place(), after, List.of());
    }
}
