package servitor.core.trail;

import tools.jackson.databind.JsonNode;

/**
 * Something that happened and belongs on the trail, before it has its place there.
 *
 * @param actor who did it: {@code agent:name}, {@code person:id}, {@code stranger:address} (who says so proves nothing),
 *     {@code outside:intake} (a system that signs its messages) or {@code system}
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

    /** Somebody of whom nothing is known but the address that a mail says it is from. */
    public static String stranger(String address) {
        return "stranger:" + address;
    }

    /** A system outside whose messages come to the intake {@code name}. */
    public static String outside(String name) {
        return "outside:" + name;
    }

    public static String person(String id) {
        return "person:" + id;
    }
}
