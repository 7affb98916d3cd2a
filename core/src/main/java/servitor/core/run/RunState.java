package servitor.core.run;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Traced;

/**
 * Everything a run is between two inputs. Immutable, and small: it is written with every transition.
 *
 * @param step the address of the step it is at
 * @param visits how many steps it has entered
 * @param commands how many commands it has given; names the next one
 * @param calls how many tool calls it has sent
 * @param tokens how many model tokens it has used
 * @param troubled whether the page's way out of trouble has been taken
 * @param saved values by the name a step saved them under
 * @param written every text a machine wrote in this run, and whether a person approved exactly that text
 * @param pending what it is waiting for; null when nothing
 * @param problem the last problem a step met
 * @param outcome the state the case is left in, once ended
 * @param waitingFor what is waited for, in words for people
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record RunState(
        String id,
        String caseId,
        int edition,
        String page,
        RunStatus status,
        String step,
        int visits,
        int commands,
        int calls,
        int tokens,
        boolean troubled,
        Map<String, Traced> saved,
        List<WrittenText> written,
        @Nullable Pending pending,
        @Nullable Problem problem,
        @Nullable String outcome,
        @Nullable String waitingFor) {

    public RunState {
        saved = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(saved));
        written = List.copyOf(written);
    }

    /** A run that hasn't begun. */
    public static RunState ready(String id, String caseId, int edition, String page) {
        return new RunState(
                id,
                caseId,
                edition,
                page,
                RunStatus.READY,
                "",
                0,
                0,
                0,
                0,
                false,
                Map.of(),
                List.of(),
                null,
                null,
                null,
                null);
    }

    /** A text a machine wrote. */
    public record WrittenText(String text, boolean reviewed) {}

    /** A named problem, the step it came up at, and what is known of it. */
    public record Problem(String name, String step, String detail) {}

    /**
     * What the run waits for.
     *
     * @param id the id of the command or approval
     * @param call the call concerned; null when it isn't about one
     * @param answered groups that have approved the call
     */
    public record Pending(Kind kind, String id, @Nullable ProposedCall call, Set<String> answered) {
        public enum Kind {
            VERDICT,
            TOOL,
            MODEL,
            APPROVAL
        }

        public Pending {
            answered = Set.copyOf(answered);
        }
    }

    /** The state the case is in while the run is as it is. */
    public String caseState() {
        if (outcome != null) {
            return outcome;
        }
        return switch (status) {
            case READY, WORKING -> "working";
            case WAITING -> "waiting";
            default -> "with-people";
        };
    }

    /** The texts written so far with {@code text} marked as machine-written, reviewed or not. */
    List<WrittenText> writtenWith(String text, boolean reviewed) {
        List<WrittenText> all = new ArrayList<>();
        boolean known = false;
        for (WrittenText one : written) {
            boolean same = one.text().equals(text);
            all.add(same ? new WrittenText(text, one.reviewed() || reviewed) : one);
            known |= same;
        }
        if (!known) {
            all.add(new WrittenText(text, reviewed));
        }
        return all;
    }
}
