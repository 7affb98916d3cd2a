package servitor.core.mandate;

import java.util.List;
import java.util.Set;
import servitor.core.handbook.Decision;

/**
 * What the gate says of a call.
 *
 * @param grant the grant that gave it; empty when none did
 * @param of the groups that are to be asked, when it is {@link Decision#ASK}
 * @param charges what the call counts for in the limits of the grants that spoke
 */
public record Verdict(Decision decision, String reason, String grant, Set<String> of, List<Charge> charges) {
    public Verdict {
        of = Set.copyOf(of);
        charges = List.copyOf(charges);
        if (decision == Decision.ASK && of.isEmpty()) {
            decision = Decision.DENY;
            reason = reason + "; people would be asked, but no group is named that could answer";
        }
    }

    Verdict(Decision decision, String reason, String grant, Set<String> of) {
        this(decision, reason, grant, of, List.of());
    }

    static Verdict deny(String reason, String grant) {
        return new Verdict(Decision.DENY, reason, grant, Set.of());
    }
}
