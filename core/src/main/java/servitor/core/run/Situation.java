package servitor.core.run;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What the machine is told of the world with every input: the time, and the case as it is then.
 *
 * @param openedBy who opened the case, the requester or somebody for them
 */
public record Situation(Instant now, CaseView view, Requester requester, String openedBy) {

    /** Everybody whose own request the case is: nobody of them decides about it. */
    public Set<String> askers() {
        return Set.copyOf(new TreeSet<>(List.of(requester.id(), openedBy)));
    }

    /**
     * A case as pages see it.
     *
     * @param channel the way it came in
     */
    public record CaseView(
            String id,
            String kind,
            String desk,
            String subject,
            String text,
            String language,
            JsonNode fields,
            JsonNode documents,
            JsonNode labels,
            String priority,
            String channel,
            String state) {
        /** The same case with other documents. */
        public CaseView having(JsonNode others) {
            return new CaseView(
                    id, kind, desk, subject, text, language, fields, others, labels, priority, channel, state);
        }

        /** The same case in another state. */
        public CaseView in(String then) {
            return new CaseView(
                    id, kind, desk, subject, text, language, fields, documents, labels, priority, channel, then);
        }

        ObjectNode toJson() {
            return Json.object()
                    .put("id", id)
                    .put("kind", kind)
                    .put("desk", desk)
                    .put("subject", subject)
                    .put("text", text)
                    .put("language", language)
                    .put("priority", priority)
                    .put("channel", channel)
                    .put("state", state)
                    .<ObjectNode>set("fields", fields)
                    .<ObjectNode>set("documents", documents)
                    .set("labels", labels);
        }
    }

    /**
     * The person the case is for.
     *
     * @param manager the id of who they report to; empty when nobody is known
     * @param proof how sure we are who it is: {@code signed-in}, {@code verified} or {@code claimed}
     */
    public record Requester(String id, String name, String account, String manager, Set<String> groups, String proof) {
        ObjectNode toJson() {
            ObjectNode node = Json.object()
                    .put("id", id)
                    .put("name", name)
                    .put("account", account)
                    .put("manager", manager)
                    .put("proof", proof);
            node.set("groups", Json.of(groups.stream().sorted().toList()));
            return node;
        }
    }

    /** The same with the case changed as a step has asked for. */
    public Situation with(JsonNode changes) {
        ObjectNode fields = (ObjectNode) view.fields().deepCopy();
        changes.path("fields").properties().forEach(e -> fields.set(e.getKey(), e.getValue()));
        return new Situation(
                now,
                new CaseView(
                        view.id(),
                        view.kind(),
                        view.desk(),
                        view.subject(),
                        view.text(),
                        view.language(),
                        fields,
                        view.documents(),
                        changes.path("labels").isArray() ? changes.get("labels") : view.labels(),
                        changes.path("priority").asString(view.priority()),
                        view.channel(),
                        view.state()),
                requester,
                openedBy);
    }

    /** The names every page and condition has, with where each part came from. */
    Map<String, TracedValue> scope(RunState run) {
        Map<String, TracedValue> scope = new LinkedHashMap<>();
        Set<Origin> ours = Set.of(Origin.HANDBOOK);
        scope.put(
                "case",
                new TracedValue(
                        view.toJson(),
                        Set.of(Origin.REQUESTER),
                        Map.of(
                                "id",
                                ours,
                                "kind",
                                ours,
                                "desk",
                                ours,
                                "state",
                                ours,
                                "priority",
                                ours,
                                "channel",
                                ours),
                        false));
        scope.put("requester", TracedValue.of(requester.toJson(), Origin.LOOKUP));
        scope.put("desk", TracedValue.of(Json.of(view.desk()), Origin.HANDBOOK));
        scope.put("takes", run.takes());
        scope.put("now", TracedValue.of(Json.of(now.toString()), Origin.HANDBOOK));
        ObjectNode self =
                Json.object().put("id", run.id()).put("page", run.page()).put("edition", run.edition());
        if (run.problem() != null) {
            self.set("problem", Json.of(run.problem()));
        }
        // what is known of a problem may hold anybody's words, a model's among them
        scope.put(
                "run",
                new TracedValue(
                        self, ours, Map.of("problem.says", Set.of(Origin.REQUESTER)), Set.of("problem.detail")));
        return scope;
    }

    /** The same names as plain values, for a verdict. */
    public Map<String, JsonNode> plainScope(RunState run) {
        Map<String, JsonNode> plain = new LinkedHashMap<>();
        scope(run).forEach((name, value) -> plain.put(name, value.value()));
        return plain;
    }

    /** The names that conditions have when nothing runs: what would be said of a call that somebody only thinks of. */
    public Map<String, JsonNode> plainScope(int edition) {
        Map<String, JsonNode> plain = new LinkedHashMap<>();
        plain.put("case", view.toJson());
        plain.put("requester", requester.toJson());
        plain.put("desk", Json.of(view.desk()));
        plain.put("now", Json.of(now.toString()));
        plain.put("run", Json.object().put("id", "").put("page", "").put("edition", edition));
        return plain;
    }
}
