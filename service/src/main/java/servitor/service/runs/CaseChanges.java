package servitor.service.runs;

import servitor.core.json.Json;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.RelationRow;
import servitor.service.ledger.Writing;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Changes that a page makes to its case: priority, labels, fields, relations. Its state follows from the run. */
final class CaseChanges {
    private CaseChanges() {}

    static void apply(Writing writing, CaseRow row, JsonNode changes) {
        ObjectNode fields = (ObjectNode) Json.read(row.fields(), JsonNode.class);
        changes.path("fields").properties().forEach(e -> fields.set(e.getKey(), e.getValue()));
        String labels = changes.path("labels").isArray() ? Json.write(changes.get("labels")) : row.labels();
        writing.setCaseContent(row, changes.path("priority").asString(row.priority()), labels, Json.write(fields));
        changes.path("relations").properties().forEach(e -> {
            if (e.getValue().isString() && !e.getValue().stringValue().isBlank()) {
                writing.relate(new RelationRow(
                        row.id(), shorten(e.getKey()), shorten(e.getValue().stringValue())));
            }
        });
    }

    private static String shorten(String text) {
        return text.length() <= 60 ? text : text.substring(0, 60);
    }
}
