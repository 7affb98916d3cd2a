package servitor.service.api;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import servitor.core.trail.RecordedEntry;
import servitor.service.api.Views.Mark;
import tools.jackson.databind.JsonNode;

/** Says for each kind of trail entry in which lane of a case it shows, and as what. */
final class Lanes {
    private record Sign(String lane, Function<JsonNode, String> title) {}

    private static final Map<String, Sign> SIGNS = new LinkedHashMap<>();

    static {
        sign("case-opened", "requester", data -> "Asked: " + text(data, "subject"));
        sign("note-added", "people", data -> "Wrote a note");
        sign("run-started", "agent", data -> "Began ‘" + text(data, "title") + "’");
        sign("step", "agent", data -> text(data, "title"));
        sign("decided", "agent", data -> "Decided: go to ‘" + text(data, "go") + "’");
        sign("call-proposed", "agent", data -> "Wants to call " + text(data, "tool"));
        sign(
                "verdict",
                "agent",
                data -> data.has("settled")
                        ? "The mandate says ask, and people have approved"
                        : "The mandate says " + text(data, "verdict"));
        sign("problem", "agent", data -> "Met a problem: " + text(data, "problem"));
        sign("model-asked", "agent", data -> "Asked the model");
        sign("drafted", "agent", data -> "Wrote a draft");
        sign(
                "assessed",
                "agent",
                data -> "Judged, " + Math.round(data.path("sure").asDouble(0) * 100) + " % sure");
        sign("planned", "agent", data -> "Said what it means to do");
        sign("pursued", "agent", data -> "Reached its goal");
        sign(
                "waiting",
                "agent",
                data -> "Waits for a" + (text(data, "for").equals("event") ? "n " : " ") + text(data, "for"));
        sign("arrived", "agent", data -> "It came: " + text(data, "what"));
        sign("page-followed", "agent", data -> "Follows ‘" + text(data, "page") + "’");
        sign("item-ended", "agent", data -> "Item " + text(data, "item") + ": " + text(data, "outcome"));
        sign("run-moved", "people", data -> "Moved the run to edition " + text(data, "to"));
        sign("case-resolved", "people", data -> "Resolved the case");
        sign("started-by-hand", "people", data -> "Started ‘" + text(data, "page") + "’ by hand");
        sign("document-added", "people", data -> "Attached " + text(data, "name"));
        sign("event-reported", "people", data -> "Reported: " + text(data, "name"));
        sign("approval-reminded", "people", data -> "Reminded " + names(data.path("of")));
        sign("case-changed", "agent", data -> "Changed the case");
        sign("run-finished", "agent", data -> "Ended: " + text(data, "outcome"));
        sign("late", "agent", data -> "Something came too late");
        sign("job-started", "tools", data -> "Went to work on it");
        sign("called-back", "tools", data -> "Called back");
        sign(
                "call-sent",
                "tools",
                data -> "Called " + text(data, "tool")
                        + (data.path("try").asInt(1) > 1
                                ? " (try " + data.path("try").asInt() + ")"
                                : ""));
        sign("transcript", "tools", data -> "Kept what was said");
        sign("call-answered", "tools", data -> "Answered");
        sign("call-failed", "tools", data -> "Failed: " + text(data, "problem"));
        sign("try-again", "tools", data -> "Not available; trying again");
        sign("taken-up-again", "tools", data -> "Taken up again after a stop");
        sign("in-doubt", "tools", data -> "In doubt");
        sign(
                "settled",
                "people",
                data -> data.path("happened").asBoolean(false)
                        ? "Said that it happened"
                        : "Said that it did not happen");
        sign("approval-opened", "people", data -> "Asked " + names(data.path("of")));
        sign("approval-answered", "people", data -> switch (text(data, "answer")) {
            case "approve" -> data.has("edited") ? "Approved, with an edit" : "Approved";
            case "feedback" -> "Sent it back with feedback";
            default -> "Declined";
        });
        sign("answer-refused", "people", data -> "Answered, but it didn't count");
        sign("approval-expired", "people", data -> "Nobody answered in time");
        sign("held-back", "tools", data -> "Held back: it was stopped");
        sign("handed-over", "people", data -> "Handed over to " + text(data, "to"));
        sign("run-stopped", "people", data -> "Stopped the run");
        sign("run-paused", "people", data -> "Paused the run");
        sign("run-resumed", "people", data -> "Let the run go on");
        sign("agent-advised", "people", data -> "Told the agent something");
        sign("step-retried", "people", data -> "Had the step tried again");
        sign("step-skipped", "people", data -> "Skipped the step");
        sign("work-retried", "people", data -> "Had it tried again");
        sign("taken-over", "people", data -> "Took it over");
        sign("noted", "people", data -> "Took note");
        sign("looking-up", "tools", data -> "In doubt; looked up with " + text(data, "with"));
    }

    private Lanes() {}

    private static void sign(String what, String lane, Function<JsonNode, String> title) {
        SIGNS.put(what, new Sign(lane, title));
    }

    /** The mark of an entry; empty for what concerns no lane. */
    static Optional<Mark> mark(RecordedEntry recorded, String requester, ViewMapper describe) {
        Sign sign = SIGNS.get(recorded.entry().what());
        JsonNode data = recorded.data();
        if (sign == null || data == null) {
            return Optional.empty();
        }
        boolean own = List.of("note-added", "document-added")
                        .contains(recorded.entry().what())
                && recorded.entry().actor().equals("person:" + requester);
        return Optional.of(new Mark(
                recorded.entry().seq(),
                recorded.entry().at(),
                own ? "requester" : sign.lane(),
                recorded.entry().what(),
                describe.named(sign.title().apply(data)),
                describe.actor(recorded.entry().actor()),
                recorded.entry().runId(),
                recorded.entry().step(),
                data));
    }

    private static String text(JsonNode data, String field) {
        return data.path(field).asString("");
    }

    private static String names(JsonNode list) {
        StringBuilder names = new StringBuilder();
        list.forEach(name -> names.append(names.isEmpty() ? "" : " and ").append(name.asString()));
        return names.toString();
    }
}
