package servitor.core.expression;

import dev.cel.common.CelFunctionDecl;
import dev.cel.common.CelOverloadDecl;
import dev.cel.common.types.ListType;
import dev.cel.common.types.TypeParamType;
import dev.cel.runtime.CelFunctionBinding;
import java.util.Comparator;
import java.util.List;

/** {@code list.sum()}, {@code list.max()} and {@code list.min()} of numbers. Of nothing, the sum is zero and the others have no value. */
final class Sums {
    private static final TypeParamType NUMBER = TypeParamType.create("N");

    static final List<CelFunctionDecl> DECLARED = List.of(declared("sum"), declared("max"), declared("min"));

    static final List<CelFunctionBinding> BOUND = List.of(
            CelFunctionBinding.from("list_sum", List.class, Sums::sum),
            CelFunctionBinding.from(
                    "list_max",
                    List.class,
                    list -> numbers(list).stream()
                            .max(Sums::compare)
                            .orElseThrow(() -> new IllegalArgumentException("an empty list has no greatest"))),
            CelFunctionBinding.from(
                    "list_min",
                    List.class,
                    list -> numbers(list).stream()
                            .min(Sums::compare)
                            .orElseThrow(() -> new IllegalArgumentException("an empty list has no least"))));

    private Sums() {}

    private static CelFunctionDecl declared(String name) {
        return CelFunctionDecl.newFunctionDeclaration(
                name, CelOverloadDecl.newMemberOverload("list_" + name, NUMBER, ListType.create(NUMBER)));
    }

    private static Object sum(List<?> list) {
        List<Number> numbers = numbers(list);
        if (numbers.stream().allMatch(Long.class::isInstance)) {
            return numbers.stream().map(Number::longValue).reduce(0L, Math::addExact);
        }
        return numbers.stream().mapToDouble(Number::doubleValue).sum();
    }

    private static List<Number> numbers(List<?> list) {
        List<Number> numbers = new java.util.ArrayList<>();
        for (Object item : list) {
            if (!(item instanceof Long || item instanceof Double)) {
                throw new IllegalArgumentException("‘" + item + "’ isn't a number");
            }
            numbers.add((Number) item);
        }
        return numbers;
    }

    private static int compare(Number one, Number other) {
        return one instanceof Long && other instanceof Long
                ? Long.compare(one.longValue(), other.longValue())
                : Comparator.<Double>naturalOrder().compare(one.doubleValue(), other.doubleValue());
    }
}
