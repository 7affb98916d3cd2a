package servitor.core.handbook;

import java.util.List;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Expression;

/**
 * Tools, a condition and a verdict.
 *
 * @param name names the grant in verdicts and counters
 * @param tools tool names, where {@code *} stands for anything
 * @param when the condition; null when the grant always matches
 * @param of the group that answers an {@code ask}; null for the mandate's own
 * @param limits how often, or up to what total, it allows calls alone
 * @param overLimit the verdict beyond a limit: {@code ask} or {@code deny}
 */
public record Grant(
        String name,
        List<String> tools,
        @Nullable Expression when,
        Decision decision,
        @Nullable String of,
        List<Limit> limits,
        Decision overLimit) {
    public Grant {
        tools = List.copyOf(tools);
        limits = List.copyOf(limits);
    }

    /** Whether the grant speaks about {@code tool} at all. */
    public boolean covers(Tool tool) {
        return tools.stream().anyMatch(tool::matches);
    }
}
