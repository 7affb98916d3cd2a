package servitor.service.editions;

import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** Others have to agree first, and are asked. */
public final class NeedsConsent extends RuntimeException {
    private static final int MOST_NAMED = 5;

    /**
     * A word that is lacking.
     *
     * @param desk whose engineer has to give it; empty where any second engineer may
     * @param what is touched
     * @param who could give it, by name
     */
    record Lacks(String desk, Set<String> what, List<String> who) {
        private String words() {
            String begins = desk.isEmpty()
                    ? what.isEmpty()
                            ? "The handbook in force wants a second engineer to agree"
                            : "This changes the whole house (" + some(what) + "), so a second engineer has to agree"
                    : "This touches the desk " + desk + " (" + some(what) + "); an engineer there has to agree";
            String could = who.isEmpty()
                    ? ". Nobody can: an admin makes somebody engineer"
                            + (desk.isEmpty() ? "" : " of that desk")
                            + " with ‘servitor user set PERSON --roles engineer"
                            + (desk.isEmpty() ? "’" : " --desks " + desk + "’")
                    : ": " + String.join(" or ", who.subList(0, Math.min(who.size(), MOST_NAMED)));
            return begins + could + ". ";
        }

        private static String some(Set<String> what) {
            String named = what.stream().limit(MOST_NAMED).collect(Collectors.joining(", "));
            return what.size() > MOST_NAMED ? named + " and " + (what.size() - MOST_NAMED) + " more" : named;
        }
    }

    NeedsConsent(List<Lacks> lacks, String digest) {
        super(lacks.stream().map(Lacks::words).collect(Collectors.joining())
                + "They are asked; they look at it and agree to exactly these files under Approvals, or with: "
                + "servitor handbook consent " + digest + ". Publish it again then. Nothing was published.");
    }
}
