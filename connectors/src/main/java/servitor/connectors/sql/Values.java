package servitor.connectors.sql;

import java.math.BigDecimal;
import java.sql.Array;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import org.jspecify.annotations.Nullable;
import org.postgresql.util.PGobject;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;

/** Values of databases as JSON, and back: times as ISO 8601, lists as arrays, JSON as what it holds. */
final class Values {
    private static final int LONGEST_TEXT = 100_000;

    private Values() {}

    /** What a statement gets for an input. */
    static @Nullable Object of(JsonNode input, Connection database) throws SQLException {
        if (input.isNumber()) {
            return input.decimalValue();
        } else if (input.isBoolean()) {
            return input.booleanValue();
        } else if (input.isArray()) {
            boolean numbers = !input.isEmpty() && input.valueStream().allMatch(JsonNode::isNumber);
            Object[] items = input.valueStream()
                    .map(item -> numbers ? (Object) item.decimalValue() : item.asString(""))
                    .toArray();
            return database.createArrayOf(numbers ? "numeric" : "varchar", items);
        }
        return input.isNull() || input.isMissingNode()
                ? null
                : input.isObject() ? Json.write(input) : input.asString("");
    }

    /** Column {@code at} of the row that {@code rows} stands at. */
    static JsonNode column(ResultSet rows, int at) throws SQLException {
        Object value = rows.getObject(at);
        if (value instanceof Timestamp
                && rows.getMetaData().getColumnTypeName(at).equalsIgnoreCase("timestamptz")) {
            return json(rows.getObject(at, OffsetDateTime.class));
        }
        return json(value);
    }

    private static JsonNode json(@Nullable Object value) throws SQLException {
        if (value instanceof Number number) {
            return number instanceof Double || number instanceof Float
                    ? real(number.doubleValue())
                    : Json.of(new BigDecimal(number.toString()));
        } else if (value == null || value instanceof Boolean) {
            return Json.of(value);
        } else if (value instanceof Array array) {
            return list((Object[]) array.getArray());
        } else if (value instanceof Object[] items) {
            return list(items);
        } else if (value instanceof Timestamp time) {
            return Json.of(time.toLocalDateTime().toString());
        } else if (value instanceof OffsetDateTime time) {
            return Json.of(time.withOffsetSameInstant(ZoneOffset.UTC).toString());
        } else if (value instanceof PGobject object && object.getType().startsWith("json")) {
            return held(object.getValue());
        }
        return text(value.toString());
    }

    private static JsonNode real(double number) {
        return Double.isFinite(number) ? Json.of(BigDecimal.valueOf(number)) : Json.of(String.valueOf(number));
    }

    private static JsonNode list(Object[] items) throws SQLException {
        ArrayNode list = Json.mapper().createArrayNode();
        for (Object item : items) {
            list.add(json(item));
        }
        return list;
    }

    private static JsonNode held(@Nullable String json) {
        try {
            return json == null ? Json.of(null) : Outside.read(json);
        } catch (MalformedJson e) {
            return text(String.valueOf(json)); // beyond the bounds of what is taken as JSON
        }
    }

    private static JsonNode text(String text) {
        return Json.of(text.length() <= LONGEST_TEXT ? text : text.substring(0, LONGEST_TEXT));
    }
}
