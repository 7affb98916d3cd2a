package servitor.service.intake;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.json.Json;
import servitor.core.run.Situation;
import servitor.service.ServitorSettings;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.RelationRow;
import servitor.service.ledger.Writer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Open cases that messages may belong to, as conditions know them ({@link Intake#openCase}). A service that is alone with its database
 * remembers them and reads again what has changed; one that shares it reads all of them each time.
 */
@Component
class OpenCases {
    /** The newest of a kind that are looked through. */
    static final int MOST = 2_000;

    private final CaseStore caseStore;
    private final boolean alone;
    private final Map<String, TreeMap<Long, Open>> remembered = new HashMap<>();
    /** Cases that have changed since. */
    private final Set<String> changed = ConcurrentHashMap.newKeySet();

    /** Whether anybody asked; what changes before concerns nobody. */
    private volatile boolean remembers;

    private long newest;

    OpenCases(CaseStore caseStore, Writer writer, ServitorSettings settings) {
        this.caseStore = caseStore;
        this.alone = !settings.isShared();
        writer.onCommit(changes -> changes.stream()
                .filter(change -> change.what().equals("case"))
                .filter(change -> remembers && changed.size() <= MOST)
                .forEach(change -> changed.add(change.id())));
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

    /**
     * What a search has found.
     *
     * @param open the newest first
     * @param newest the number of the newest case there was, of whichever kind
     */
    record Found(List<Open> open, long newest) {}

    /** Those of a kind. */
    synchronized Found of(Kind kind) {
        if (!alone) {
            long last = caseStore.newest();
            return new Found(since(kind, 0), last);
        }
        remembers = true;
        try {
            refresh();
        } catch (RuntimeException e) {
            remembered.clear(); // what changed would be known by nobody
            throw e;
        }
        TreeMap<Long, Open> known = remembered.computeIfAbsent(key(kind.desk(), kind.name()), none -> {
            newest = Math.max(newest, caseStore.newest());
            return byNumber(since(kind, 0));
        });
        return new Found(List.copyOf(known.values()), newest);
    }

    /** Those of a kind that are numbered above {@code above}, as they stand in the tables. */
    List<Open> since(Kind kind, long above) {
        List<CaseRow> rows = caseStore.open(kind.desk(), kind.name(), above, MOST);
        return rows.isEmpty() ? List.of() : opened(rows, caseStore.relationsOfOpen(kind.desk(), kind.name(), above));
    }

    private void refresh() {
        Set<String> ids = new HashSet<>(changed);
        if (ids.isEmpty()) {
            return;
        }
        changed.removeAll(ids);
        if (ids.size() > MOST) {
            remembered.clear(); // more has changed than is told of
            return;
        }
        List<CaseRow> rows = new ArrayList<>();
        for (CaseRow row : caseStore.all(ids).values()) {
            newest = Math.max(newest, row.number());
            TreeMap<Long, Open> known = remembered.get(key(row.desk(), row.kind()));
            if (known != null) {
                known.remove(row.number());
                if (!row.isDone()) {
                    rows.add(row);
                }
            }
        }
        if (rows.isEmpty()) {
            return;
        }
        List<RelationRow> relations =
                caseStore.relations(rows.stream().map(CaseRow::id).collect(Collectors.toSet()));
        Map<String, CaseRow> byId = rows.stream().collect(Collectors.toMap(CaseRow::id, row -> row));
        opened(rows, relations).forEach(open -> {
            CaseRow row = byId.get(open.id());
            TreeMap<Long, Open> known = row == null ? null : remembered.get(key(row.desk(), row.kind()));
            if (known != null) {
                known.put(open.number(), open);
                if (known.size() > MOST) {
                    known.pollLastEntry();
                }
            }
        });
    }

    private static String key(String desk, String kind) {
        return desk + " " + kind;
    }

    private static TreeMap<Long, Open> byNumber(List<Open> all) {
        TreeMap<Long, Open> known = new TreeMap<>(Comparator.reverseOrder());
        all.forEach(open -> known.put(open.number(), open));
        return known;
    }

    private static List<Open> opened(List<CaseRow> rows, List<RelationRow> relations) {
        Map<String, List<RelationRow>> byCase = relations.stream().collect(Collectors.groupingBy(RelationRow::caseId));
        return rows.stream()
                .map(row -> of(row, byCase.getOrDefault(row.id(), List.of())))
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
        ObjectNode all = known.putObject("relations");
        relations.forEach(one -> {
            ArrayNode to = all.has(one.what()) ? (ArrayNode) all.get(one.what()) : all.putArray(one.what());
            to.add(one.other());
        });
        return new Open(row.id(), row.number(), known);
    }
}
