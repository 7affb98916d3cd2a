package servitor.service.editions;

import java.util.List;
import servitor.core.handbook.finding.Finding;

/** A handbook with errors, or one that isn't as rehearsed, can't be published; carries all that was found. */
public final class HandbookRefused extends RuntimeException {
    private final String title;
    private final transient List<Finding> findings;

    HandbookRefused(List<Finding> findings) {
        this("The handbook has errors", "The handbook has errors, so nothing was published.", findings);
    }

    /** Not all is as rehearsed. */
    static HandbookRefused notAsRehearsed(List<Finding> findings) {
        return new HandbookRefused("Not as rehearsed", "Not all is as rehearsed, so nothing was published.", findings);
    }

    private HandbookRefused(String title, String message, List<Finding> findings) {
        super(message);
        this.title = title;
        this.findings = List.copyOf(findings);
    }

    public String title() {
        return title;
    }

    public List<Finding> findings() {
        return findings;
    }
}
