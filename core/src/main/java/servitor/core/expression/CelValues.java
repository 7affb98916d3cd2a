package servitor.core.expression;

import com.google.common.primitives.UnsignedLong;
import dev.cel.common.values.NullValue;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** JSON values as CEL sees them, and back. */
final class CelValues {
    /** Numbers of so many significant digits are all different as doubles (IEEE 754, binary64). */
    private static final int SURE_DIGITS = 15;

    private CelValues() {}

    static Object fromJson(JsonNode node) {
        if (node.isObject()) {
            Map<String, Object> map = new LinkedHashMap<>();
            node.properties().forEach(e -> map.put(e.getKey(), fromJson(e.getValue())));
            return map;
        }
        if (node.isArray()) {
            List<Object> list = new ArrayList<>();
            node.forEach(item -> list.add(fromJson(item)));
            return list;
        }
        if (node.isString()) {
            return node.stringValue();
        }
        if (node.isBoolean()) {
            return node.booleanValue();
        }
        if (node.isIntegralNumber() && node.canConvertToLong()) {
            return node.longValue();
        }
        return node.isNumber() ? (Object) exact(node) : NullValue.NULL_VALUE;
    }

    /** Expressions count in IEEE doubles; a number that isn't one to the last digit would be compared as another. */
    private static double exact(JsonNode number) {
        BigDecimal value = number.decimalValue();
        double nearest = value.doubleValue();
        if (value.stripTrailingZeros().precision() > SURE_DIGITS
                && (Double.isInfinite(nearest) || BigDecimal.valueOf(nearest).compareTo(value) != 0)) {
            throw new ArithmeticException("a number has more digits than can be compared exactly");
        }
        return nearest;
    }

    static JsonNode toJson(@Nullable Object value) {
        if (value == null || value instanceof NullValue) {
            return Json.of(null);
        }
        if (value instanceof Map<?, ?> map) {
            var object = Json.object();
            map.forEach((key, item) -> object.set(String.valueOf(key), toJson(item)));
            return object;
        }
        if (value instanceof List<?> list) {
            var array = Json.mapper().createArrayNode();
            list.forEach(item -> array.add(toJson(item)));
            return array;
        }
        if (value instanceof Double number) {
            if (number.isNaN() || number.isInfinite()) {
                throw new ArithmeticException("the result is not a finite number");
            }
            return Json.nodes().numberNode(BigDecimal.valueOf(number));
        }
        if (value instanceof UnsignedLong number) {
            return Json.nodes().numberNode(number.bigIntegerValue());
        }
        if (value instanceof Boolean || value instanceof Long || value instanceof String) {
            return Json.of(value);
        }
        return Json.nodes().stringNode(String.valueOf(value));
    }
}
