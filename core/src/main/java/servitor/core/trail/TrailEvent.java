package servitor.core.trail;

import tools.jackson.databind.JsonNode;

/**
 * Something that happened and belongs on the trail, before it has its place there.
 *
 * @param actor who did it: {@code agent:name}, {@code person:id} or {@code system}
 * @param step the step of the page it happened at; may be empty
 */
public record TrailEvent(String actor, TrailWord what, String step, JsonNode data) {
    public TrailEvent {
        assert what.fields().containsAll(data.propertyNames()) : what.word() + " declares no such data: " + data;
    }

    public static final String SYSTEM = "system";

    public static String agent(String name) {
        return "agent:" + name;
    }

    public static String person(String id) {
        return "person:" + id;
    }
}
