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
        return node.isNumber() ? (Object) node.doubleValue() : NullValue.NULL_VALUE;
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
