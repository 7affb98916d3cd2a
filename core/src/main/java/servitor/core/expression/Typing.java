package servitor.core.expression;

import com.google.common.collect.ImmutableList;
import com.google.common.collect.ImmutableSet;
import dev.cel.bundle.Cel;
import dev.cel.bundle.CelBuilder;
import dev.cel.common.CelAbstractSyntaxTree;
import dev.cel.common.CelIssue;
import dev.cel.common.CelValidationException;
import dev.cel.common.ast.CelConstant;
import dev.cel.common.ast.CelExpr;
import dev.cel.common.types.CelType;
import dev.cel.common.types.CelTypeProvider;
import dev.cel.common.types.ListType;
import dev.cel.common.types.SimpleType;
import dev.cel.common.types.StructType;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.core.shape.Shape;

/**
 * Checks an expression against the declared shapes of the names it reads, and tells the shape of its value. Maps become
 * declared struct types, so that a field that doesn't exist is found before anything runs.
 */
public final class Typing {
    private static final int MOST_KEPT = 20_000;
    private static final Map<Question, Typed> KEPT = new ConcurrentHashMap<>();
    private static final Pattern UNDEFINED = Pattern.compile("undefined field '([^']+)'");
    private static final Pattern OVERLOAD =
            Pattern.compile("found no matching overload for '([^']+)' applied to '\\(([^)]*)\\)'.*", Pattern.DOTALL);
    private static final Map<String, String> SIGNS = Map.ofEntries(
            Map.entry("_==_", "=="),
            Map.entry("_!=_", "!="),
            Map.entry("_<_", "<"),
            Map.entry("_<=_", "<="),
            Map.entry("_>_", ">"),
            Map.entry("_>=_", ">="),
            Map.entry("_+_", "+"),
            Map.entry("_-_", "-"),
            Map.entry("_*_", "*"),
            Map.entry("_/_", "/"),
            Map.entry("_&&_", "&&"),
            Map.entry("_||_", "||"),
            Map.entry("!_", "!"),
            Map.entry("@in", "in"),
            Map.entry("_[_]", "[…]"));

    private Typing() {}

    /**
     * Something wrong with an expression.
     *
     * @param name what is misspelt, when something is; {@code known} are the names it could have been
     * @param line counts from 1 within the expression, as does {@code column}
     */
    public record Fault(Kind kind, String what, String name, List<String> known, int line, int column) {
        public enum Kind {
            /** A field that isn't declared. */
            FIELD,
            /** A word that isn't one of those declared. */
            OPTION,
            /** A field that may be missing and is read without {@code has()}. */
            MAY_BE_MISSING,
            /** Anything else the types forbid. */
            TYPE
        }
    }

    /** What checking an expression found, and the shape of its value. */
    public record Typed(Shape shape, List<Fault> faults) {}

    private record Question(String text, Map<String, Shape> shapes) {}

    /** Checks {@code expression}; names without a shape may be anything. */
    public static Typed check(Expression expression, Map<String, Shape> shapes) {
        Map<String, Shape> used = new LinkedHashMap<>();
        expression.paths().forEach(path -> used.put(path.root(), shapes.getOrDefault(path.root(), Shape.ANYTHING)));
        Question question = new Question(expression.text(), used);
        Typed kept = KEPT.get(question);
        if (kept == null) {
            kept = answer(expression, used);
            if (KEPT.size() < MOST_KEPT) {
                KEPT.put(question, kept);
            }
        }
        return kept;
    }

    private static Typed answer(Expression expression, Map<String, Shape> shapes) {
        List<Fault> faults = new ArrayList<>();
        for (Expression.Read read : expression.reads()) {
            field(read, shapes, expression, faults);
        }
        if (faults.stream().anyMatch(fault -> fault.kind() == Fault.Kind.FIELD)) {
            return new Typed(Shape.ANYTHING, List.copyOf(faults));
        }
        Structs structs = new Structs();
        CelBuilder builder = Expression.builder().setTypeProvider(structs);
        shapes.forEach((name, shape) -> builder.addVar(name, structs.type(shape, name)));
        Cel cel = builder.build();
        try {
            CelAbstractSyntaxTree tree = cel.compile(expression.text()).getAst();
            options(tree.getExpr(), shapes, tree, faults);
            return new Typed(structs.shape(tree.getResultType()), List.copyOf(faults));
        } catch (CelValidationException e) {
            e.getErrors().forEach(issue -> faults.add(fault(issue)));
            return new Typed(Shape.ANYTHING, List.copyOf(faults));
        }
    }

    private static void field(
            Expression.Read read, Map<String, Shape> shapes, Expression expression, List<Fault> faults) {
        Shape at = shapes.getOrDefault(read.path().root(), Shape.ANYTHING);
        String so = read.path().root();
        for (String name : read.path().fields()) {
            Optional<Shape.Field> field = at.field(name);
            so += "." + name;
            if (field.isEmpty()) {
                List<String> known = at instanceof Shape.Fields map
                        ? List.copyOf(map.fields().keySet())
                        : List.of();
                String what = at instanceof Shape.Fields
                        ? "there is no field ‘" + name + "’ in ‘" + so.substring(0, so.lastIndexOf('.')) + "’"
                        : "‘" + so.substring(0, so.lastIndexOf('.')) + "’ is " + at.words() + " and has no fields";
                faults.add(new Fault(Fault.Kind.FIELD, what, name, known, read.line(), read.column()));
                return;
            }
            if (!field.get().always() && !read.tested() && !expression.isTested(so)) {
                faults.add(new Fault(
                        Fault.Kind.MAY_BE_MISSING,
                        "‘" + so + "’ may be missing",
                        so,
                        List.of(),
                        read.line(),
                        read.column()));
            }
            at = field.get().shape();
        }
    }

    /** Words compared with a value of which only a few words are possible. */
    private static void options(
            CelExpr expr, Map<String, Shape> shapes, CelAbstractSyntaxTree tree, List<Fault> faults) {
        if (expr.getKind() == CelExpr.ExprKind.Kind.CALL) {
            List<CelExpr> args = expr.call().args();
            String function = expr.call().function();
            if ((function.equals("_==_") || function.equals("_!=_")) && args.size() == 2) {
                option(args.get(0), args.get(1), shapes, tree, faults);
                option(args.get(1), args.get(0), shapes, tree, faults);
            } else if (function.equals("@in")
                    && args.size() == 2
                    && args.get(1).getKind() == CelExpr.ExprKind.Kind.LIST) {
                args.get(1).list().elements().forEach(word -> option(args.get(0), word, shapes, tree, faults));
            }
            expr.call().target().ifPresent(target -> options(target, shapes, tree, faults));
            args.forEach(arg -> options(arg, shapes, tree, faults));
        } else if (expr.getKind() == CelExpr.ExprKind.Kind.COMPREHENSION) {
            options(expr.comprehension().loopStep(), shapes, tree, faults);
            options(expr.comprehension().iterRange(), shapes, tree, faults);
        }
    }

    private static void option(
            CelExpr value, CelExpr word, Map<String, Shape> shapes, CelAbstractSyntaxTree tree, List<Fault> faults) {
        Optional<Path> path = Expression.path(value);
        if (path.isEmpty()
                || word.getKind() != CelExpr.ExprKind.Kind.CONSTANT
                || word.constant().getKind() != CelConstant.Kind.STRING_VALUE) {
            return;
        }
        Shape at = shapes.getOrDefault(path.get().root(), Shape.ANYTHING);
        for (String name : path.get().fields()) {
            at = at.field(name).map(Shape.Field::shape).orElse(Shape.ANYTHING);
        }
        String given = word.constant().stringValue();
        if (at instanceof Shape.OneOf oneOf && !oneOf.options().contains(given)) {
            int column = Expression.column(tree, word);
            faults.add(new Fault(
                    Fault.Kind.OPTION,
                    "‘" + path.get() + "’ is never ‘" + given + "’",
                    given,
                    oneOf.options(),
                    1,
                    column));
        }
    }

    private static Fault fault(CelIssue issue) {
        String message = issue.getMessage().strip();
        Matcher undefined = UNDEFINED.matcher(message);
        int line = Math.max(1, issue.getSourceLocation().getLine());
        int column = Math.max(0, issue.getSourceLocation().getColumn()) + 1;
        if (undefined.find()) {
            return new Fault(
                    Fault.Kind.FIELD,
                    "there is no field ‘" + undefined.group(1) + "’",
                    undefined.group(1),
                    List.of(),
                    line,
                    column);
        }
        return new Fault(Fault.Kind.TYPE, plain(message), "", List.of(), line, column);
    }

    /** What CEL's own checker says, in the words of pages. */
    static String plain(String message) {
        Matcher overload = OVERLOAD.matcher(message.strip());
        if (!overload.matches()) {
            return message.strip();
        }
        String sign = SIGNS.getOrDefault(overload.group(1), overload.group(1));
        String types = overload.group(2)
                .replaceAll("\\bstring\\b", "text")
                .replaceAll("\\bdouble\\b", "number")
                .replaceAll("\\bint\\b", "whole number")
                .replaceAll("\\bbool\\b", "yes/no")
                .replaceAll("shape\\.", "")
                .replace(", ", " and ");
        return "‘" + sign + "’ doesn't go with " + types;
    }

    /** The declared maps as CEL struct types, made as they are needed. */
    private static final class Structs implements CelTypeProvider {
        private final Map<String, StructType> types = new LinkedHashMap<>();
        private final Map<String, Shape> shapes = new LinkedHashMap<>();

        CelType type(Shape shape, String name) {
            if (shape instanceof Shape.Text || shape instanceof Shape.Date || shape instanceof Shape.OneOf) {
                return SimpleType.STRING;
            } else if (shape instanceof Shape.YesNo) {
                return SimpleType.BOOL;
            } else if (shape instanceof Shape.Number) {
                return SimpleType.DOUBLE;
            } else if (shape instanceof Shape.Whole) {
                return SimpleType.INT;
            } else if (shape instanceof Shape.ListOf list) {
                return ListType.create(type(list.item(), name + "_item"));
            } else if (shape instanceof Shape.Fields map) {
                String full = "shape." + name;
                shapes.put(full, shape);
                types.computeIfAbsent(
                        full,
                        key -> StructType.create(
                                key,
                                ImmutableSet.copyOf(map.fields().keySet()),
                                field -> Optional.ofNullable(map.fields().get(field))
                                        .map(found -> type(found.shape(), name + "_" + field))));
                return types.get(full);
            }
            return SimpleType.DYN;
        }

        Shape shape(CelType type) {
            if (type.equals(SimpleType.STRING)) {
                return Shape.TEXT;
            } else if (type.equals(SimpleType.BOOL)) {
                return Shape.YES_NO;
            } else if (type.equals(SimpleType.DOUBLE)) {
                return Shape.NUMBER;
            } else if (type.equals(SimpleType.INT)) {
                return Shape.WHOLE;
            } else if (type instanceof ListType list && list.hasElemType()) {
                return new Shape.ListOf(shape(list.elemType()));
            }
            return shapes.getOrDefault(type.name(), Shape.ANYTHING);
        }

        @Override
        public ImmutableList<CelType> types() {
            return ImmutableList.copyOf(types.values());
        }

        @Override
        public Optional<CelType> findType(String name) {
            return Optional.ofNullable(types.get(name));
        }
    }
}
