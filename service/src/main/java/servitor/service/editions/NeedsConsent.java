package servitor.service.editions;

import java.util.Set;
import java.util.TreeSet;

/** Others have to agree first, and are asked. */
public final class NeedsConsent extends RuntimeException {
    NeedsConsent(Set<String> desks, boolean second, String digest) {
        super((desks.isEmpty()
                        ? ""
                        : "This changes files of " + (desks.size() == 1 ? "the desk " : "the desks ")
                                + String.join(", ", new TreeSet<>(desks)) + "; an engineer there has to agree. ")
                + (second ? "The handbook in force wants a second engineer to agree. " : "")
                + "They are asked; they look at it and agree to exactly these files under Approvals, or with: "
                + "servitor handbook consent " + digest + ". Publish it again then. Nothing was published.");
    }
}
