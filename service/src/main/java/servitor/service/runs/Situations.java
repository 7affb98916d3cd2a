package servitor.service.runs;

import servitor.core.json.Json;
import servitor.core.run.Situation;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.PersonRow;
import servitor.service.ledger.Writing;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;

/** What the machine is told of a case and its requester, as they are in this transaction. */
final class Situations {
    private Situations() {}

    static Situation of(Writing writing, CaseRow row) {
        PersonRow person = writing.ledger().person(row.requester()).orElse(null);
        Situation.Requester requester = new Situation.Requester(
                row.requester(),
                person == null ? row.requester() : person.name(),
                person == null ? "" : person.account(),
                person == null ? "" : person.manager(),
                writing.ledger().groupsOf(row.requester()),
                row.proof());
        ArrayNode documents = Json.mapper().createArrayNode();
        writing.ledger()
                .documents(row.id())
                .forEach(document -> documents
                        .addObject()
                        .put("name", document.name())
                        .put("type", document.type())
                        .put("size", document.size()));
        Situation.CaseView view = new Situation.CaseView(
                row.id(),
                row.kind(),
                row.desk(),
                row.subject(),
                row.text(),
                row.language(),
                Json.read(row.fields(), JsonNode.class),
                documents,
                Json.read(row.labels(), JsonNode.class),
                row.priority(),
                row.state());
        return new Situation(writing.now(), view, requester);
    }
}
