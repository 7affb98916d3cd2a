package servitor.core.trail;

import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * An entry with its data, as stored and as exported (one JSON object per line).
 *
 * @param salt hexadecimal; null when the data is withheld from whoever exported
 * @param data null when withheld
 */
public record RecordedEntry(
        TrailEntry entry, @Nullable String salt, @Nullable JsonNode data) {

    /** One line of an export, without the line end. */
    public String toLine() {
        ObjectNode line = entry.toJson();
        if (salt != null && data != null) {
            line.put("salt", salt).set("data", data);
        } else {
            line.put("withheld", true);
        }
        return Json.write(line);
    }

    /** Reads one line of an export. */
    public static RecordedEntry fromLine(String line) throws MalformedJson {
        JsonNode node = Json.read(line); // a line of ours, whoever brings it: as deep as the trail may hold
        try {
            JsonNode salt = node.get("salt");
            return new RecordedEntry(
                    TrailEntry.fromJson(node), salt == null ? null : salt.stringValue(), node.get("data"));
        } catch (RuntimeException e) {
            throw new MalformedJson("this line isn't a trail entry: " + e.getMessage(), e);
        }
    }
}
