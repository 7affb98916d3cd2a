package servitor.core.mandate;

import java.util.List;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Expression;
import servitor.core.handbook.Tool;

/**
 * Tools, a condition and a verdict.
 *
 * @param name names the grant in verdicts and counters
 * @param tools tool names, where {@code *} stands for anything
 * @param when the condition; null when the grant always matches
 * @param of the group that answers an {@code ask}; null for the mandate's own
 */
public record Grant(
        String name,
        List<String> tools,
        @Nullable Expression when,
        Decision decision,
        @Nullable String of) {
    public Grant {
        tools = List.copyOf(tools);
    }

    /** Whether the grant speaks about {@code tool} at all. */
    public boolean covers(Tool tool) {
        return tools.stream().anyMatch(tool::matches);
    }
}
