package servitor.service.intake;

import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.json.Json;
import servitor.core.run.Situation;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.RelationRow;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Open cases that messages may belong to, as conditions know them ({@link Intake#openCase}). */
@Component
class OpenCases {
    /** The newest of a kind that are looked through. */
    static final int MOST = 2_000;

    private final CaseStore caseStore;

    OpenCases(CaseStore caseStore) {
        this.caseStore = caseStore;
    }

    /** One of them. */
    record Open(String id, long number, ObjectNode known) {
        /** The same as it stands now. */
        ObjectNode now(Situation.CaseView view) {
            return known.deepCopy()
                    .put("state", view.state())
                    .put("priority", view.priority())
                    .<ObjectNode>set("labels", view.labels())
                    .set("fields", view.fields());
        }
    }

    /** Those of a kind that are numbered above {@code above}, the newest first. */
    List<Open> of(Kind kind, long above) {
        List<CaseRow> rows = caseStore.open(kind.desk(), kind.name(), above, MOST);
        if (rows.isEmpty()) {
            return List.of();
        }
        Map<String, List<RelationRow>> relations = caseStore.relationsOfOpen(kind.desk(), kind.name(), above).stream()
                .collect(Collectors.groupingBy(RelationRow::caseId));
        return rows.stream()
                .map(row -> of(row, relations.getOrDefault(row.id(), List.of())))
                .toList();
    }

    /** One that was opened just now. */
    static Open of(CaseRow row, Map<String, String> relations) {
        return of(
                row,
                relations.entrySet().stream()
                        .map(one -> new RelationRow(row.id(), one.getKey(), one.getValue()))
                        .toList());
    }

    private static Open of(CaseRow row, List<RelationRow> relations) {
        ObjectNode known = Json.object()
                .put("id", row.id())
                .put("subject", row.subject())
                .put("requester", row.requester())
                .put("state", row.state())
                .put("priority", row.priority());
        known.set("labels", Json.read(row.labels(), JsonNode.class));
        known.set("fields", Json.read(row.fields(), JsonNode.class));
        ArrayNode all = known.putArray("relations");
        relations.forEach(one -> all.addObject().put("what", one.what()).put("to", one.other()));
        return new Open(row.id(), row.number(), known);
    }
}
