package servitor.core.expression;

import java.util.List;

/** A name followed by field names, as in {@code booking.sailing.state}. */
public record Path(String root, List<String> fields) {
    public Path {
        fields = List.copyOf(fields);
    }

    /** The path to a field of what this one leads to. */
    public Path field(String name) {
        List<String> more = new java.util.ArrayList<>(fields);
        more.add(name);
        return new Path(root, more);
    }

    @Override
    public String toString() {
        return fields.isEmpty() ? root : root + "." + String.join(".", fields);
    }
}
