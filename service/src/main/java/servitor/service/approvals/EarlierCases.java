package servitor.service.approvals;

import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import servitor.service.cases.CaseFilter;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.ledger.TrailStore;
import servitor.service.people.Person;

/** What happened before with whoever asks: their last cases at the same desk, and what was done in them. */
@Component
public class EarlierCases {
    private static final int MOST = 4;
    private static final int MOST_CALLS = 30;

    private final CaseStore cases;
    private final TrailStore trail;

    EarlierCases(CaseStore cases, TrailStore trail) {
        this.cases = cases;
        this.trail = trail;
    }

    /** One of them, with what calls changed something in it, in a line each. */
    public record Earlier(CaseRow about, List<String> did) {}

    /**
     * The last of them before {@code about}, the newest first. Whoever doesn't work at its desk is told of cases of the same kind only.
     */
    public List<Earlier> before(CaseRow about, Person viewer) {
        CaseFilter filter = new CaseFilter(
                null,
                viewer.seesAsStaff(about) ? null : about.kind(),
                about.desk(),
                about.requester(),
                null,
                null,
                null,
                null,
                null,
                about.created());
        return cases.list("", Set.of(about.desk()), filter, Long.MAX_VALUE, MOST + 1).stream()
                .filter(one -> !one.id().equals(about.id()))
                .limit(MOST)
                .map(one -> new Earlier(one, did(one.id())))
                .toList();
    }

    private List<String> did(String caseId) {
        return trail.ofCase(caseId, TrailWord.CALL_SENT.word(), 0, MOST_CALLS).stream()
                .map(RecordedEntry::data)
                .filter(data -> data != null && data.path("try").asInt(1) == 1)
                .map(data -> data.path("says").asString(""))
                .filter(says -> !says.isEmpty())
                .toList();
    }
}
