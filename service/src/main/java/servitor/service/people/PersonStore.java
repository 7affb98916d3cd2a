package servitor.service.people;

import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.LedgerTransaction.Changed;

/** People, what they belong to, and their tokens. Whatever is written is written within one of the writer's transactions. */
@Component
public class PersonStore {
    private final PersonMapper people;

    PersonStore(PersonMapper people) {
        this.people = people;
    }

    public Optional<PersonRow> find(String id) {
        return Optional.ofNullable(people.find(id));
    }

    /** Whoever has this id, address or account. */
    public List<PersonRow> called(String name) {
        return people.called(name);
    }

    /** Everybody who has this mail address. */
    public List<PersonRow> withAddress(String address) {
        return people.withAddress(address);
    }

    /** Everybody who may sign in and is meant by a group, a desk or {@code person:ID}. */
    public List<PersonRow> meant(String name) {
        return people.meant(name);
    }

    public List<PersonRow> all() {
        return people.all();
    }

    public Set<String> desksOf(String person) {
        return new HashSet<>(people.desks(person));
    }

    public Set<String> groupsOf(String person) {
        return new HashSet<>(people.groups(person));
    }

    /**
     * How many people could answer for any of {@code groups}: who may sign in and belong to a group, approve or resolve at a desk, or
     * are meant by name, and whom none of {@code not} means.
     */
    public int eligible(Set<String> groups, Set<String> not) {
        return groups.isEmpty() ? 0 : people.countIn(groups, not);
    }

    /** Whom somebody stands in for now. */
    Set<String> standsInFor(String deputy, Instant now) {
        return new HashSet<>(people.standsInFor(deputy, now));
    }

    Optional<DeputyRow> deputy(String person) {
        return Optional.ofNullable(people.deputy(person));
    }

    void setDeputy(DeputyRow row) {
        people.setDeputy(row);
    }

    boolean deleteDeputy(String person) {
        return people.deleteDeputy(person) > 0;
    }

    Optional<TokenRow> token(String hash) {
        return Optional.ofNullable(people.token(hash));
    }

    List<TokenRow> tokensOf(String person) {
        return people.tokensOf(person);
    }

    public void insert(LedgerTransaction tx, PersonRow row) {
        people.insert(row);
        tx.forgetPeople();
    }

    public void update(LedgerTransaction tx, PersonRow row) {
        LedgerTransaction.fenced(people.update(row), "person " + row.id());
        tx.forgetPeople();
        tx.changed(new Changed("person", row.id(), "", row.id()));
    }

    /** Puts a person into these desks and groups, and out of all others. */
    public void setMemberships(LedgerTransaction tx, String person, Set<String> desks, Set<String> groups) {
        people.clearDesks(person);
        people.clearGroups(person);
        desks.forEach(desk -> people.insertDesk(person, desk));
        groups.forEach(group -> people.insertGroup(person, group));
        tx.forgetPeople();
    }

    void insertToken(TokenRow row) {
        people.insertToken(row);
    }

    int deleteTokens(String person, String label) {
        return people.deleteTokens(person, label);
    }
}
