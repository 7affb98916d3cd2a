package servitor.service.people;

import static servitor.service.people.Access.Where.AT_THE_DESK;
import static servitor.service.people.Access.Where.AT_THE_DESK_BUT_NOT_OWN;
import static servitor.service.people.Access.Where.IN_THE_HOUSE;
import static servitor.service.people.Access.Where.OWN;
import static servitor.service.people.Access.Where.OWN_OR_AT_THE_DESK;
import static servitor.service.people.Role.ADMIN;
import static servitor.service.people.Role.APPROVER;
import static servitor.service.people.Role.AUDITOR;
import static servitor.service.people.Role.ENGINEER;
import static servitor.service.people.Role.RESOLVER;

import java.util.Set;

/**
 * The one policy: who may do what, and where. What a person sees of a case at all is said by {@link Person#sees}; whoever doesn't
 * see it is told that there is no such case.
 */
public enum Access {
    MANAGE_PEOPLE(IN_THE_HOUSE, Set.of(ADMIN), "This is an admin's work."),
    SET_CONNECTIONS(IN_THE_HOUSE, Set.of(ADMIN), "This is an admin's work."),
    SEE_CONNECTIONS(IN_THE_HOUSE, Set.of(ADMIN, ENGINEER), "Admins and engineers see connections."),
    BACK_UP(IN_THE_HOUSE, Set.of(ADMIN), "Admins make and fetch backups."),
    SEE_THE_HOUSE(
            IN_THE_HOUSE,
            Set.of(ADMIN, AUDITOR, APPROVER, ENGINEER, RESOLVER),
            "Staff see what agents could do and what was stopped."),
    SEE_THE_TRAIL(
            IN_THE_HOUSE, Set.of(ADMIN, AUDITOR, ENGINEER), "The whole trail is for auditors, engineers and admins."),
    EXPORT_THE_TRAIL(IN_THE_HOUSE, Set.of(AUDITOR), "Exporting the trail is for auditors."),
    READ_HANDBOOKS(
            IN_THE_HOUSE, Set.of(AUDITOR, APPROVER, ENGINEER, RESOLVER), "Handbooks are for the people of the desks."),
    WRITE_HANDBOOKS(IN_THE_HOUSE, Set.of(ENGINEER), "Handbooks are checked and published by engineers."),
    TRY_TOOLS(IN_THE_HOUSE, Set.of(ENGINEER), "Tools are an engineer's work."),
    STOP_ANYTHING(IN_THE_HOUSE, Set.of(ADMIN), "Admins stop what belongs to no desk."),

    STOP_AT_THE_DESK(AT_THE_DESK, Set.of(ENGINEER), "Engineers of the desk stop what works for it."),
    OPEN_FOR_OTHERS(
            AT_THE_DESK, Set.of(RESOLVER), "Only resolvers of the desk open cases of this kind for somebody else."),
    SEND_MESSAGES(
            AT_THE_DESK,
            Set.of(RESOLVER),
            "Only resolvers of the desk send messages here; give the outside system a person of its own there, and a token."),
    SEE_LANES(AT_THE_DESK, Set.of(AUDITOR, APPROVER, ENGINEER, RESOLVER), "Lanes are for the people of the desk."),
    WRITE_STAFF_NOTES(
            AT_THE_DESK, Set.of(APPROVER, ENGINEER, RESOLVER), "Only people of the desk write notes for staff."),
    ADD_TO_CASE(OWN_OR_AT_THE_DESK, Set.of(APPROVER, ENGINEER, RESOLVER), "Auditors see a case and add nothing to it."),
    WITHDRAW_CASE(OWN, Set.of(), "Only whoever a case is for takes it back; the desk resolves it."),
    RESOLVE_CASE(AT_THE_DESK, Set.of(APPROVER, ENGINEER, RESOLVER), "People who work at the desk resolve its cases."),
    SAY_WHO_SEES_TO_IT(
            AT_THE_DESK,
            Set.of(APPROVER, ENGINEER, RESOLVER),
            "People who work at the desk say who sees to its cases."),
    REPORT_EVENT(AT_THE_DESK, Set.of(ENGINEER, RESOLVER), "Resolvers and engineers of the desk report events."),
    START_PAGE(AT_THE_DESK, Set.of(ENGINEER, RESOLVER), "Resolvers and engineers of the desk start pages."),
    MOVE_RUN(AT_THE_DESK, Set.of(ENGINEER), "Engineers move runs to another edition."),
    STEER_RUN(
            AT_THE_DESK_BUT_NOT_OWN,
            Set.of(ENGINEER, RESOLVER),
            "Resolvers and engineers of the desk steer runs, and nobody in their own case."),
    SETTLE_CALL(
            AT_THE_DESK_BUT_NOT_OWN,
            Set.of(APPROVER, ENGINEER, RESOLVER),
            "Resolvers, approvers and engineers of the desk settle what is in doubt, and nobody in their own case.");

    /** Where a role counts. */
    enum Where {
        /** Whichever desk somebody works for, or none. */
        IN_THE_HOUSE,
        /** Only for the cases, and the things, of one's own desks. */
        AT_THE_DESK,
        /** The same, and not in a case that one asked for or opened. */
        AT_THE_DESK_BUT_NOT_OWN,
        /** In one's own case alone. */
        OWN,
        /** In one's own case whatever one's roles, and at the desk. */
        OWN_OR_AT_THE_DESK
    }

    private final Where where;
    private final Set<Role> roles;
    private final String refusal;

    Access(Where where, Set<Role> roles, String refusal) {
        this.where = where;
        this.roles = roles;
        this.refusal = refusal;
    }

    /** Whether a person may do this for the whole house. */
    public boolean allows(Person person) {
        return where == IN_THE_HOUSE && hasRole(person);
    }

    /** Whether a person may do this with what belongs to {@code desk}. */
    public boolean allows(Person person, String desk) {
        return where == IN_THE_HOUSE
                ? hasRole(person)
                : hasRole(person) && person.desks().contains(desk);
    }

    /** Whether a person may do this in a case. */
    public boolean allows(Person person, DeskCase row) {
        return switch (where) {
            case IN_THE_HOUSE, AT_THE_DESK -> allows(person, row.desk());
            case AT_THE_DESK_BUT_NOT_OWN -> allows(person, row.desk()) && !person.asked(row);
            case OWN -> row.requester().equals(person.id());
            case OWN_OR_AT_THE_DESK -> row.requester().equals(person.id()) || allows(person, row.desk());
        };
    }

    /** Refuses whoever may not. */
    public void require(Person person) {
        refuseUnless(allows(person));
    }

    public void require(Person person, String desk) {
        refuseUnless(allows(person, desk));
    }

    public void require(Person person, DeskCase row) {
        refuseUnless(allows(person, row));
    }

    private boolean hasRole(Person person) {
        return roles.stream().anyMatch(person::is);
    }

    private void refuseUnless(boolean allowed) {
        if (!allowed) {
            throw new NotAllowed(refusal);
        }
    }
}
