package servitor.core.handbook.check;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;
import servitor.core.expression.Typing;
import servitor.core.expression.Typing.Fault;
import servitor.core.handbook.Place;
import servitor.core.handbook.Places;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;
import servitor.core.json.Schemas;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

/** Checks expressions against what is in scope where they stand. */
final class ExpressionRule {
    private static final Pattern DASHED = Pattern.compile("\\.([A-Za-z_]\\w*(?:-\\w+)+)");

    private final Findings findings;

    ExpressionRule(Findings findings) {
        this.findings = findings;
    }

    /** A condition must be yes or no. */
    void condition(Expression when, Place place, Map<String, Shape> scope, List<String> sometimes) {
        Shape shape = expression(when, place, 0, scope, sometimes);
        if (!(shape instanceof Shape.YesNo) && !(shape instanceof Shape.Anything)) {
            findings.error(
                    place,
                    Code.TYPES,
                    "This condition gives " + shape.words() + ", not yes or no.",
                    "Compare it with something, as in ‘booking.paid > 0.0’.");
        }
    }

    /** A sum must be made of numbers. */
    void number(Expression sum, Place place, Map<String, Shape> scope) {
        Shape shape = expression(sum, place, 0, scope, List.of());
        if (!(shape instanceof Shape.Number || shape instanceof Shape.Whole || shape instanceof Shape.Anything)) {
            findings.error(
                    place,
                    Code.TYPES,
                    "What is summed up here gives " + shape.words() + ", not a number.",
                    "Name an input that is a number, as in ‘args.amount’.");
        }
    }

    /** Every expression of a template whose text for {@code key} stands at the place that {@code places} tells. */
    void template(Template template, Places places, Map<String, Shape> scope, List<String> sometimes) {
        for (Template.Placed placed : template.expressions()) {
            expression(placed.expression(), places.of(placed.key()), placed.offset(), scope, sometimes);
        }
    }

    /** Where the value of a key inside a template stands. */
    interface Places {
        Place of(String key);
    }

    /** An input's template against the schema it must fit. */
    void input(String name, Template value, JsonNode schema, Place place, Map<String, Shape> scope) {
        value.asConstant()
                .ifPresentOrElse(
                        constant -> Schemas.violations(schema, constant).stream()
                                .limit(1)
                                .forEach(violation -> findings.error(
                                        place,
                                        Code.INPUT_VALUE,
                                        "‘" + name + "’ doesn't fit: " + violation + ".",
                                        "Give a value of the declared type.")),
                        () -> {
                            Shape given = Scopes.shapeOf(value, scope);
                            Shape wanted = Shape.ofSchema(schema);
                            if (!fits(given, wanted)) {
                                findings.error(
                                        place,
                                        Code.INPUT_VALUE,
                                        "‘" + name + "’ should be " + wanted.words() + " and is given " + given.words()
                                                + ".",
                                        "Give a value of the declared type.");
                            }
                        });
    }

    /** Whether a value of one shape may stand where the other is wanted, as far as is known. */
    static boolean fits(Shape given, Shape wanted) {
        if (given instanceof Shape.Anything || wanted instanceof Shape.Anything || given.equals(wanted)) {
            return true;
        }
        if (isText(given) && isText(wanted)) {
            return !(given instanceof Shape.OneOf some && wanted instanceof Shape.OneOf all)
                    || all.options().containsAll(some.options());
        }
        if (given instanceof Shape.ListOf some && wanted instanceof Shape.ListOf all) {
            return fits(some.item(), all.item());
        }
        if (given instanceof Shape.Fields some && wanted instanceof Shape.Fields all) {
            return some.fields().entrySet().stream()
                    .allMatch(e -> all.fields().containsKey(e.getKey())
                            && fits(
                                    e.getValue().shape(),
                                    all.fields().get(e.getKey()).shape()));
        }
        return given instanceof Shape.Whole && wanted instanceof Shape.Number;
    }

    private static boolean isText(Shape shape) {
        return shape instanceof Shape.Text || shape instanceof Shape.Date || shape instanceof Shape.OneOf;
    }

    private Shape expression(
            Expression expression, Place place, int offset, Map<String, Shape> scope, List<String> sometimes) {
        boolean known = true;
        for (Expression.Read read : expression.reads()) {
            String root = read.path().root();
            if (!scope.containsKey(root) && !Expression.OF_CALLS.contains(root)) {
                known = false;
                Place there = at(place, offset, read.line(), read.column());
                Optional<String> dashed = dashed(expression.text(), root);
                if (dashed.isPresent()) {
                    findings.error(
                            there,
                            Code.UNKNOWN_NAME,
                            "‘" + dashed.get() + "’ is read as a subtraction here.",
                            "A name with a dash stands between backticks: `" + dashed.get() + "`.");
                } else {
                    unknown(root, there, scope, sometimes);
                }
            }
        }
        if (!known) {
            return Shape.ANYTHING;
        }
        Typing.Typed typed = Typing.check(expression, scope);
        typed.faults().forEach(fault -> say(fault, at(place, offset, fault.line(), fault.column())));
        return typed.shape();
    }

    /** The field with a dash in its name that somebody meant, when {@code root} is what follows the dash. */
    private static Optional<String> dashed(String text, String root) {
        return DASHED.matcher(text)
                .results()
                .map(found -> found.group(1))
                .filter(name -> List.of(name.split("-")).contains(root))
                .findFirst();
    }

    private void unknown(String root, Place place, Map<String, Shape> scope, List<String> sometimes) {
        if (sometimes.contains(root)) {
            findings.error(
                    place,
                    Code.NOT_SAVED,
                    "‘" + root + "’ isn't saved on every way that leads here.",
                    "Save it on each of them, or lead the others elsewhere.");
        } else {
            List<String> all = new ArrayList<>(scope.keySet());
            all.addAll(sometimes);
            findings.unknown(Code.UNKNOWN_NAME, root, all, place);
        }
    }

    static Place at(Place place, int offset, int line, int column) {
        return new Place(place.file(), place.line() + line - 1, (line == 1 ? place.column() + offset : 1) + column - 1);
    }

    private void say(Fault fault, Place place) {
        switch (fault.kind()) {
            case FIELD ->
                findings.error(
                        place,
                        Code.UNKNOWN_FIELD,
                        sentence(fault.what()),
                        fault.known().isEmpty()
                                ? "Read a field that is declared."
                                : Suggest.nearest(fault.name(), fault.known())
                                        .filter(near -> near.contains("-"))
                                        .map(near -> "Did you mean ‘`" + near + "`’, with its backticks?")
                                        .orElseGet(() -> Suggest.remedy(fault.name(), fault.known())));
            case OPTION ->
                findings.error(
                        place,
                        Code.UNKNOWN_OPTION,
                        sentence(fault.what()),
                        Suggest.remedy(fault.name(), fault.known()));
            case MAY_BE_MISSING ->
                findings.warning(
                        place,
                        Code.MAY_BE_MISSING,
                        sentence(fault.what()),
                        "Ask first: ‘has(" + fault.name() + ") && …’, or ‘has(" + fault.name() + ") ? " + fault.name()
                                + " : \"\"’.");
            case TYPE ->
                findings.error(
                        place,
                        Code.TYPES,
                        sentence(fault.what()),
                        "Compare like with like: decimal numbers are written with a point (0.0), texts in quotes.");
        }
    }

    private static String sentence(String what) {
        return Character.toUpperCase(what.charAt(0)) + what.substring(1) + ".";
    }
}
