package servitor.core.mandate;

import java.util.Set;

/**
 * What the gate says of a call.
 *
 * @param grant the grant that gave it; empty when none did
 * @param of the groups that are to be asked, when it is {@link Decision#ASK}
 */
public record Verdict(Decision decision, String reason, String grant, Set<String> of) {
    public Verdict {
        of = Set.copyOf(of);
        if (decision == Decision.ASK && of.isEmpty()) {
            decision = Decision.DENY;
            reason = reason + "; people would be asked, but no group is named that could answer";
        }
    }

    static Verdict deny(String reason, String grant) {
        return new Verdict(Decision.DENY, reason, grant, Set.of());
    }
}
