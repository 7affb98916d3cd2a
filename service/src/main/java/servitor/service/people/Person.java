package servitor.service.people;

import java.util.Set;
import java.util.TreeSet;
import servitor.service.ledger.Rows.CaseRow;

/** Somebody who signed in, with what they may see and do. */
public record Person(
        String id, String name, String email, String account, Set<Role> roles, Set<String> desks, Set<String> groups) {
    public Person {
        roles = Set.copyOf(roles);
        desks = Set.copyOf(desks);
        groups = Set.copyOf(groups);
    }

    public boolean is(Role... any) {
        for (Role role : any) {
            if (roles.contains(role)) {
                return true;
            }
        }
        return false;
    }

    /** Whether this person works for a desk at all, rather than only asking. */
    public boolean isStaff() {
        return is(Role.RESOLVER, Role.APPROVER, Role.ENGINEER, Role.AUDITOR);
    }

    /** The desks whose cases this person sees as staff. */
    public Set<String> staffDesks() {
        return isStaff() ? desks : Set.of();
    }

    /** Whether this person sees a case as staff of its desk. */
    public boolean seesAsStaff(CaseRow row) {
        return staffDesks().contains(row.desk());
    }

    /** Whether this person sees a case at all: as staff of its desk, or because it is theirs. */
    public boolean sees(CaseRow row) {
        return seesAsStaff(row) || row.requester().equals(id);
    }

    /** Whether this person may add notes and documents: in their own case, or as one who works at its desk. */
    public boolean addsTo(CaseRow row) {
        return row.requester().equals(id) || (seesAsStaff(row) && is(Role.RESOLVER, Role.APPROVER, Role.ENGINEER));
    }

    /** The groups this person answers approvals for, and the person alone; a desk stands for those who approve or resolve there. */
    public Set<String> answersFor() {
        Set<String> all = new TreeSet<>(groups);
        all.add("person:" + id);
        if (is(Role.APPROVER, Role.RESOLVER)) {
            all.addAll(desks);
        }
        return all;
    }
}
