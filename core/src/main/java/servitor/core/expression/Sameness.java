package servitor.core.expression;

import dev.cel.common.ast.CelExpr;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Two values that are the same wherever a condition holds: {@code one == other}, or {@code one in other}, as one of the parts that all
 * have to hold.
 *
 * @param member whether {@code other} is a list that has {@code one}
 */
public record Sameness(Path one, Path other, boolean member) {
    private static final String AND = "_&&_";
    private static final String EQUALS = "_==_";
    private static final String IN = "@in";

    /** Those that an expression demands. */
    static List<Sameness> in(CelExpr expr) {
        return found(expr).toList();
    }

    private static Stream<Sameness> found(CelExpr expr) {
        if (expr.getKind() != CelExpr.ExprKind.Kind.CALL) {
            return Stream.of();
        }
        CelExpr.CelCall call = expr.call();
        return switch (call.function()) {
            case AND -> call.args().stream().flatMap(Sameness::found);
            case EQUALS, IN -> of(call).stream();
            default -> Stream.of();
        };
    }

    private static Optional<Sameness> of(CelExpr.CelCall call) {
        Optional<Path> one = Expression.path(call.args().get(0));
        Optional<Path> other = Expression.path(call.args().get(1));
        return one.isPresent() && other.isPresent()
                ? Optional.of(
                        new Sameness(one.get(), other.get(), call.function().equals(IN)))
                : Optional.empty();
    }
}
