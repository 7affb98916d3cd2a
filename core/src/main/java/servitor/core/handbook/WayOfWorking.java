package servitor.core.handbook;

import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;

/** How much an agent, or whoever calls a tool, is trusted with what acts; the later, the less. Reads always go out. */
public enum WayOfWorking {
    /** As the mandate says. */
    ALONE,
    /** People are asked about every call, whatever the mandate allows. */
    SUPERVISED,
    /** Calls are proposed and judged, and none leaves: people do them by hand, and say what they did. */
    SHADOW;

    /** The word it is written with. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** The one with this word; empty when there is none. */
    public static Optional<WayOfWorking> of(String word) {
        return Stream.of(values()).filter(one -> one.word().equals(word)).findFirst();
    }

    /** How an agent works with a tool: the more careful of the two, and alone with what only reads. */
    public static WayOfWorking of(Agent agent, Tool tool) {
        if (!tool.effect().acts()) {
            return ALONE;
        }
        return agent.works().compareTo(tool.works()) > 0 ? agent.works() : tool.works();
    }
}
