package servitor.service.editions;

import java.util.Set;
import java.util.TreeSet;

/** Files of other desks are changed, and no engineer there has agreed. */
public final class NeedsConsent extends RuntimeException {
    NeedsConsent(Set<String> desks, String digest) {
        super("This changes files of " + (desks.size() == 1 ? "the desk " : "the desks ")
                + String.join(", ", new TreeSet<>(desks))
                + ". An engineer there agrees to exactly these files with: servitor handbook consent " + digest
                + ". Nothing was published.");
    }
}
