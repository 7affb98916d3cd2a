package servitor.core.expression;

import java.util.List;

/** A name followed by field names, as in {@code booking.sailing.state}. */
public record Path(String root, List<String> fields) {
    public Path {
        fields = List.copyOf(fields);
    }

    @Override
    public String toString() {
        return fields.isEmpty() ? root : root + "." + String.join(".", fields);
    }
}
