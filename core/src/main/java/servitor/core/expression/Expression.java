package servitor.core.expression;

import com.google.common.collect.ImmutableList;
import dev.cel.bundle.Cel;
import dev.cel.bundle.CelBuilder;
import dev.cel.bundle.CelFactory;
import dev.cel.common.CelAbstractSyntaxTree;
import dev.cel.common.CelIssue;
import dev.cel.common.CelOptions;
import dev.cel.common.CelValidationException;
import dev.cel.common.ast.CelConstant;
import dev.cel.common.ast.CelExpr;
import dev.cel.common.types.SimpleType;
import dev.cel.extensions.CelExtensions;
import dev.cel.extensions.CelListsExtensions;
import dev.cel.parser.CelMacro;
import dev.cel.parser.CelMacroExprFactory;
import dev.cel.parser.CelStandardMacro;
import dev.cel.runtime.CelEvaluationException;
import dev.cel.runtime.CelRuntime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import tools.jackson.databind.JsonNode;

/**
 * One CEL expression, compiled once and evaluated on JSON values. Immutable and safe to share.
 *
 * <p>Beyond the standard macros it knows {@code source(args.x)} and {@code origin(args.x)}: the record that an input of
 * a call was a field of, and the places the input came from; and {@code used("name of a grant")}: what has been used of the
 * first limit of that grant. They expand to fields of the variables {@link #SOURCES}, {@link #ORIGINS} and {@link #USED}, which
 * whoever judges a call puts into the scope.
 */
public final class Expression {
    public static final String SOURCES = "call_sources";
    public static final String ORIGINS = "call_origins";
    public static final String USED = "grants_used";
    /** What only whoever judges a call knows. */
    public static final Set<String> OF_CALLS = Set.of(SOURCES, ORIGINS, USED);

    private static final int MOST_CHARACTERS = 4_000;
    private static final int MOST_KEPT = 10_000;
    private static final CelOptions OPTIONS = CelOptions.current()
            .enableHeterogeneousNumericComparisons(true)
            .enableQuotedIdentifierSyntax(true)
            .comprehensionMaxIterations(10_000)
            .maxExpressionCodePointSize(MOST_CHARACTERS)
            .build();
    /** All of it but {@code lists.range}, which makes lists of any length out of a number. */
    private static final CelListsExtensions LISTS = CelExtensions.lists(
            CelListsExtensions.Function.SLICE,
            CelListsExtensions.Function.FLATTEN,
            CelListsExtensions.Function.DISTINCT,
            CelListsExtensions.Function.REVERSE,
            CelListsExtensions.Function.SORT,
            CelListsExtensions.Function.SORT_BY);

    private static final Map<String, Expression> KEPT = new ConcurrentHashMap<>();
    private static final Cel PARSER = environment(Set.of());

    private final String text;
    private final Set<Path> paths;
    private final List<Read> reads;
    private final Optional<Path> whole;
    private final List<Sameness> samenesses;
    private final CelRuntime.Program program;

    private Expression(
            String text,
            List<Read> reads,
            Optional<Path> whole,
            List<Sameness> samenesses,
            CelRuntime.Program program) {
        this.text = text;
        this.samenesses = List.copyOf(samenesses);
        this.reads = List.copyOf(reads);
        Set<Path> found = new LinkedHashSet<>();
        reads.forEach(read -> found.add(read.path()));
        this.paths = java.util.Collections.unmodifiableSet(found);
        this.whole = whole;
        this.program = program;
    }

    /**
     * One place where the expression reads a name or a field of it.
     *
     * @param tested whether it is only asked for with {@code has()}
     * @param line counts from 1, as does {@code column}
     */
    public record Read(Path path, boolean tested, int line, int column) {}

    /** Compiles {@code text}; names needn't be known yet, see {@link #paths()}. */
    public static Expression parse(String text) throws BadExpression {
        Expression kept = KEPT.get(text);
        if (kept != null) {
            return kept;
        }
        try {
            CelAbstractSyntaxTree parsed = PARSER.parse(text).getAst();
            List<Read> reads = new ArrayList<>();
            collect(parsed.getExpr(), Set.of(), parsed, reads);
            Set<String> roots = new LinkedHashSet<>();
            reads.forEach(read -> roots.add(read.path().root()));
            Cel cel = environment(roots);
            Expression expression = new Expression(
                    text,
                    reads,
                    path(parsed.getExpr()),
                    Sameness.in(parsed.getExpr()),
                    cel.createProgram(cel.compile(text).getAst()));
            if (KEPT.size() < MOST_KEPT) {
                KEPT.put(text, expression);
            }
            return expression;
        } catch (CelValidationException e) {
            CelIssue issue = e.getErrors().get(0);
            throw new BadExpression(
                    Typing.plain(issue.getMessage()),
                    Math.max(1, issue.getSourceLocation().getLine()),
                    Math.max(0, issue.getSourceLocation().getColumn()) + 1);
        } catch (CelEvaluationException | StackOverflowError e) {
            throw new BadExpression("the expression can't be planned: " + e.getMessage(), 1, 1);
        }
    }

    /** The conditions that all have to hold, as they were written, when it is made of such; else itself. */
    public List<String> conjuncts() {
        List<String> parts = new ArrayList<>();
        int depth = 0;
        int from = 0;
        char quote = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quote != 0) {
                i += c == '\\' ? 1 : 0;
                quote = c == quote ? 0 : quote;
            } else if (c == '"' || c == '\'') {
                quote = c;
            } else if ("([{".indexOf(c) >= 0) {
                depth++;
            } else if (")]}".indexOf(c) >= 0) {
                depth--;
            } else if (depth == 0 && (c == '?' || text.startsWith("||", i))) {
                return List.of(text);
            } else if (depth == 0 && text.startsWith("&&", i)) {
                parts.add(text.substring(from, i).strip());
                from = i + 2;
            }
        }
        parts.add(text.substring(from).strip());
        return parts;
    }

    public String text() {
        return text;
    }

    /** Every name the expression reads from its scope, with the fields read from it. */
    public Set<Path> paths() {
        return paths;
    }

    /** Whether it only asks with {@code has()} if the path is there: nothing of what stands there gets into the value. */
    public boolean onlyTests(Path path) {
        return reads.stream().filter(read -> read.path().equals(path)).allMatch(Read::tested);
    }

    /** Every read of a name, with its position. */
    public List<Read> reads() {
        return reads;
    }

    /** Whether the expression asks with {@code has()} if the field at {@code path} (dotted) is there. */
    boolean isTested(String path) {
        return reads.stream()
                .anyMatch(read -> read.tested() && read.path().toString().equals(path));
    }

    /** The path, when the whole expression is nothing but a path. */
    public Optional<Path> asPath() {
        return whole;
    }

    /** What is the same wherever the condition holds; there may be more than is found. */
    public List<Sameness> samenesses() {
        return samenesses;
    }

    /** The value for {@code scope}; a missing name or field is a failure, never a null. */
    public JsonNode evaluate(Map<String, JsonNode> scope) throws EvaluationFailed {
        try {
            Map<String, Object> variables = new HashMap<>();
            for (String root : roots(paths)) {
                JsonNode value = scope.get(root);
                if (value != null) {
                    variables.put(root, CelValues.fromJson(value));
                }
            }
            return CelValues.toJson(program.eval(variables));
        } catch (CelEvaluationException | RuntimeException e) {
            throw new EvaluationFailed("‘" + text + "’ has no value: " + e.getMessage(), e);
        }
    }

    /** Whether the condition holds; anything but true or false is a failure. */
    public boolean holds(Map<String, JsonNode> scope) throws EvaluationFailed {
        JsonNode value = evaluate(scope);
        if (!value.isBoolean()) {
            throw new EvaluationFailed("‘" + text + "’ is not a yes/no condition: it gives " + value);
        }
        return value.booleanValue();
    }

    private static Set<String> roots(Set<Path> paths) {
        Set<String> roots = new LinkedHashSet<>();
        paths.forEach(path -> roots.add(path.root()));
        return roots;
    }

    private static Cel environment(Set<String> names) {
        CelBuilder builder = builder();
        names.forEach(name -> builder.addVar(name, SimpleType.DYN));
        return builder.build();
    }

    /** What every expression is compiled with. */
    static CelBuilder builder() {
        return CelFactory.plannerCelBuilder()
                .setOptions(OPTIONS)
                .setStandardMacros(CelStandardMacro.STANDARD_MACROS)
                .addMacros(
                        CelMacro.newGlobalMacro("source", 1, (factory, target, args) -> ofCall(factory, args, SOURCES)),
                        CelMacro.newGlobalMacro("origin", 1, (factory, target, args) -> ofCall(factory, args, ORIGINS)),
                        CelMacro.newGlobalMacro("used", 1, (factory, target, args) -> ofGrant(factory, args)))
                .addFunctionDeclarations(Finding.DECLARED)
                .addFunctionBindings(Finding.BOUND)
                .addFunctionDeclarations(Sums.DECLARED)
                .addFunctionBindings(Sums.BOUND)
                .addCompilerLibraries(CelExtensions.strings(), CelExtensions.math(OPTIONS), LISTS)
                .addRuntimeLibraries(CelExtensions.strings(), CelExtensions.math(OPTIONS), LISTS);
    }

    private static Optional<CelExpr> ofGrant(CelMacroExprFactory factory, ImmutableList<CelExpr> arguments) {
        CelExpr name = arguments.get(0);
        if (name.getKind() != CelExpr.ExprKind.Kind.CONSTANT
                || name.constant().getKind() != CelConstant.Kind.STRING_VALUE) {
            return Optional.of(factory.reportError("used() takes the name of a grant, as in used(\"small refunds\")"));
        }
        return Optional.of(
                factory.newSelect(factory.newIdentifier(USED), name.constant().stringValue(), false));
    }

    private static Optional<CelExpr> ofCall(
            CelMacroExprFactory factory, ImmutableList<CelExpr> arguments, String variable) {
        Optional<Path> input = path(arguments.get(0));
        if (input.isEmpty()
                || !input.get().root().equals("args")
                || input.get().fields().isEmpty()) {
            return Optional.of(
                    factory.reportError("source() and origin() take an input of the call, as in source(args.amount)"));
        }
        return Optional.of(factory.newSelect(
                factory.newIdentifier(variable), input.get().fields().get(0), false));
    }

    static Optional<Path> path(CelExpr expr) {
        return switch (expr.getKind()) {
            case IDENT -> Optional.of(new Path(expr.ident().name(), List.of()));
            case SELECT ->
                expr.select().testOnly()
                        ? Optional.empty()
                        : path(expr.select().operand()).map(path -> {
                            List<String> fields = new ArrayList<>(path.fields());
                            fields.add(expr.select().field());
                            return new Path(path.root(), fields);
                        });
            default -> Optional.empty();
        };
    }

    private static void collect(CelExpr expr, Set<String> bound, CelAbstractSyntaxTree tree, List<Read> found) {
        boolean tested =
                expr.getKind() == CelExpr.ExprKind.Kind.SELECT && expr.select().testOnly();
        Optional<Path> path = tested
                ? path(expr.select().operand()).map(of -> of.field(expr.select().field()))
                : path(expr);
        if (path.isPresent()) {
            if (!bound.contains(path.get().root())) {
                found.add(new Read(path.get(), tested, line(tree, expr), column(tree, root(expr))));
            }
            return;
        }
        switch (expr.getKind()) {
            case SELECT -> collect(expr.select().operand(), bound, tree, found);
            case CALL -> {
                expr.call().target().ifPresent(target -> collect(target, bound, tree, found));
                expr.call().args().forEach(arg -> collect(arg, bound, tree, found));
            }
            case LIST -> expr.list().elements().forEach(element -> collect(element, bound, tree, found));
            case MAP ->
                expr.map().entries().forEach(entry -> {
                    collect(entry.key(), bound, tree, found);
                    collect(entry.value(), bound, tree, found);
                });
            case COMPREHENSION -> {
                var loop = expr.comprehension();
                collect(loop.iterRange(), bound, tree, found);
                collect(loop.accuInit(), bound, tree, found);
                Set<String> inside = new LinkedHashSet<>(bound);
                inside.add(loop.iterVar());
                inside.add(loop.accuVar());
                if (!loop.iterVar2().isEmpty()) {
                    inside.add(loop.iterVar2());
                }
                collect(loop.loopCondition(), inside, tree, found);
                collect(loop.loopStep(), inside, tree, found);
                collect(loop.result(), inside, tree, found);
            }
            default -> {}
        }
    }

    private static CelExpr root(CelExpr expr) {
        return expr.getKind() == CelExpr.ExprKind.Kind.SELECT
                ? root(expr.select().operand())
                : expr;
    }

    private static int offset(CelAbstractSyntaxTree tree, CelExpr expr) {
        return tree.getSource().getPositionsMap().getOrDefault(expr.id(), 0);
    }

    static int line(CelAbstractSyntaxTree tree, CelExpr expr) {
        return tree.getSource()
                .getOffsetLocation(offset(tree, expr))
                .map(location -> Math.max(1, location.getLine()))
                .orElse(1);
    }

    static int column(CelAbstractSyntaxTree tree, CelExpr expr) {
        return tree.getSource()
                .getOffsetLocation(offset(tree, expr))
                .map(location -> location.getColumn() + 1)
                .orElse(1);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Expression that && that.text.equals(text);
    }

    @Override
    public int hashCode() {
        return text.hashCode();
    }

    @Override
    public String toString() {
        return text;
    }
}
