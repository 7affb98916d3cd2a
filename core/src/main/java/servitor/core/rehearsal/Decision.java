package servitor.core.rehearsal;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * One thing that a run decided, apart from when and under which numbers.
 *
 * @param step where
 * @param what the kind of decision
 * @param key what must be the same for two of them to be the same
 * @param words the decision, for people
 */
public record Decision(String step, TrailWord what, String key, String words) {

    /** The decisions of each run that a case began with, or that one of those followed, in the order the runs began. */
    static List<List<Decision>> of(List<RecordedEntry> trail) {
        Map<String, List<Decision>> byRun = new LinkedHashMap<>();
        Set<String> others = new HashSet<>();
        List<String> startedOtherwise = new ArrayList<>();
        for (RecordedEntry recorded : trail) {
            String run = recorded.entry().runId();
            TrailWord what = TrailWord.of(recorded.entry().what()).orElse(null);
            JsonNode data = recorded.data();
            if (what == null
                    || data == null
                    || !recorded.entry().caseId().equals(trail.get(0).entry().caseId())) {
                continue;
            }
            String page = data.path("page").asString("");
            if (what == TrailWord.STARTED_BY_CHANGE || what == TrailWord.STARTED_BY_HAND) {
                startedOtherwise.add(page);
            } else if (what == TrailWord.RUN_STARTED && startedOtherwise.remove(page)) {
                others.add(run);
            }
            if (!run.isEmpty() && !others.contains(run)) {
                add(
                        byRun.computeIfAbsent(run, id -> new ArrayList<>()),
                        recorded.entry().step(),
                        what,
                        data);
            }
        }
        return List.copyOf(byRun.values());
    }

    private static void add(List<Decision> decisions, String step, TrailWord what, JsonNode data) {
        String told = text(data, "tool");
        switch (what) {
            case RUN_STARTED -> decisions.add(new Decision(step, what, text(data, "page"), what.says(data)));
            case STEP -> decisions.add(new Decision(step, what, step, "goes to ‘" + text(data, "title") + "’"));
            case CALL_PROPOSED -> {
                String inputs = Json.write(data.path("inputs"));
                decisions.add(new Decision(step, what, told + inputs, "calls ‘" + told + "’ with " + inputs));
            }
            case VERDICT -> {
                String said = text(data, "verdict")
                        + (data.has("of") ? Json.write(data.get("of")) : "null")
                        + data.has("settled");
                decisions.add(new Decision(
                        step, what, told + said, "the mandate says ‘" + text(data, "verdict") + "’ of ‘" + told + "’"));
            }
            case CALL_HELD -> decisions.add(new Decision(step, what, told, "holds ‘" + told + "’, in shadow"));
            case MODEL_ASKED -> decisions.add(new Decision(step, what, text(data, "material"), "asks the model"));
            case APPROVAL_OPENED ->
                decisions.add(new Decision(
                        step,
                        what,
                        text(data, "question") + Json.write(data.path("of")),
                        "asks " + Json.write(data.path("of")) + ": ‘" + text(data, "question") + "’"));
            case PROBLEM ->
                decisions.add(
                        new Decision(step, what, text(data, "problem"), "meets a problem: " + text(data, "problem")));
            case CASE_CHANGED -> decisions.add(new Decision(step, what, Json.write(data), "changes the case"));
            case RUN_FINISHED ->
                decisions.add(new Decision(step, what, text(data, "outcome"), "ends ‘" + text(data, "outcome") + "’"));
            case HANDED_OVER ->
                decisions.add(new Decision(step, what, text(data, "to"), "hands the case to " + text(data, "to")));
            default -> {}
        }
    }

    private static String text(JsonNode data, String field) {
        return data.path(field).asString("");
    }

    boolean sameAs(Decision other) {
        return what == other.what && step.equals(other.step) && key.equals(other.key);
    }
}
