package servitor.service.people;

import java.util.Set;
import java.util.TreeSet;
import servitor.core.handbook.Kind;

/**
 * Somebody who signed in, with what they may see and do.
 *
 * @param enabled whether they may sign in at all
 * @param standsInFor people for whom they answer approvals now
 */
public record Person(
        String id,
        String name,
        String email,
        String account,
        Set<Role> roles,
        Set<String> desks,
        Set<String> groups,
        boolean enabled,
        Set<String> standsInFor) {
    public Person {
        roles = Set.copyOf(roles);
        desks = Set.copyOf(desks);
        groups = Set.copyOf(groups);
        standsInFor = Set.copyOf(standsInFor);
    }

    public Person(
            String id,
            String name,
            String email,
            String account,
            Set<Role> roles,
            Set<String> desks,
            Set<String> groups) {
        this(id, name, email, account, roles, desks, groups, true, Set.of());
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

    /** Whether this person sees what holds for all desks: what agents could do, what was stopped, what rests. */
    public boolean seesTheHouse() {
        return Access.SEE_THE_HOUSE.allows(this);
    }

    /** The desks whose cases this person sees as staff. */
    public Set<String> staffDesks() {
        return isStaff() ? desks : Set.of();
    }

    /** Whether this person sees a case as staff of its desk. */
    public boolean seesAsStaff(DeskCase row) {
        return staffDesks().contains(row.desk());
    }

    /** Whether this person sees a case at all: as staff of its desk, or because it is theirs. */
    public boolean sees(DeskCase row) {
        return seesAsStaff(row) || row.requester().equals(id);
    }

    /** Whether the case is this person's own request: theirs, or one they opened for somebody else. */
    public boolean asked(DeskCase row) {
        return row.requester().equals(id) || row.openedBy().equals(id);
    }

    /** Whether this person is offered cases of a kind; nobody without a role is, but of what everybody may ask for. */
    public boolean mayOpen(Kind kind) {
        return kind.isPublic() || !roles.isEmpty() && kind.isOpenTo(groups, staffDesks());
    }

    /** Whether this is somebody who can't sign in, known by a mail address only. */
    public boolean isGuest() {
        return roles.isEmpty();
    }

    /** What this person is meant by: by themselves, a group of theirs, or a desk they work at. */
    public Set<String> called() {
        Set<String> all = new TreeSet<>(groups);
        all.add("person:" + id);
        all.addAll(staffDesks());
        return all;
    }

    /** Everything this person answers approvals for, as themselves and for those they stand in for. */
    public Set<String> answersFor() {
        Set<String> all = answersAsThemselves();
        standsInFor.forEach(one -> all.add("person:" + one));
        return all;
    }

    /** The groups this person answers approvals for, and the person alone; a desk stands for those who approve or resolve there. */
    public Set<String> answersAsThemselves() {
        Set<String> all = new TreeSet<>(groups);
        all.add("person:" + id);
        if (is(Role.APPROVER, Role.RESOLVER)) {
            all.addAll(desks);
        }
        return all;
    }
}
