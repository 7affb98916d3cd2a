package servitor.core.intake;

import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Something that happened outside, as the system says it where it happened.
 *
 * @param id its id there; empty when it has none. With {@code source} it is the same for every time it is sent.
 * @param source what it happened in; empty when that isn't said
 * @param type what sort of thing happened; empty when that isn't said
 * @param subject what it is about there; empty when that isn't said
 * @param time when it happened, as the system wrote it; empty when that isn't said
 * @param data what it says, of any shape
 */
public record OutsideEvent(String id, String source, String type, String subject, String time, JsonNode data) {
    /** The most characters of an id, a source, a type or a subject. */
    static final int LONGEST = 500;

    public OutsideEvent {
        for (String part : new String[] {id, source, type, subject, time}) {
            if (part.length() > LONGEST || part.chars().anyMatch(Character::isISOControl)) {
                throw new IllegalArgumentException(
                        "an id, a source, a type, a subject or a time of an event has more than " + LONGEST
                                + " characters, or one that can't be printed");
            }
        }
    }

    /** A message of which nothing is known but what it says, and the id it was sent with. */
    public static OutsideEvent plain(String id, JsonNode data) {
        return new OutsideEvent(id, "", "", "", "", data);
    }

    /** The same, known by another id of another source. */
    public OutsideEvent named(String otherId, String otherSource) {
        return new OutsideEvent(otherId, otherSource, type, subject, time, data);
    }

    /** What expressions know of it beside its data. */
    public ObjectNode head() {
        return Json.object()
                .put("id", id)
                .put("source", source)
                .put("type", type)
                .put("subject", subject)
                .put("time", time);
    }
}
