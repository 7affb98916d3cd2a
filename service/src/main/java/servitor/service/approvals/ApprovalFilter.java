package servitor.service.approvals;

import java.time.Instant;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.service.cases.CaseFilter;
import servitor.service.people.Person;

/**
 * What a list of approvals is narrowed to, rights first; null leaves a part open.
 *
 * @param me whose list it is
 * @param names what that person answers for: groups, desks, and the person alone
 * @param desks whose cases that person sees as staff
 * @param open those that wait for an answer, the most urgent first; otherwise the others, the last closed first
 * @param askedOnly only those that the person may answer
 * @param about what their cases are narrowed to; its times are those at which people were asked
 * @param afterTime with {@code afterId}: where an earlier list ended
 */
public record ApprovalFilter(
        String me,
        Set<String> names,
        Set<String> desks,
        boolean open,
        boolean askedOnly,
        CaseFilter about,
        @Nullable Instant afterTime,
        @Nullable String afterId) {

    /** All that wait for this very person. */
    public static ApprovalFilter asked(Person person) {
        return new ApprovalFilter(
                person.id(), person.answersFor(), person.staffDesks(), true, true, CaseFilter.ALL, null, null);
    }
}
