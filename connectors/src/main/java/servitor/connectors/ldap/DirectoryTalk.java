package servitor.connectors.ldap;

import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.LDAPSearchException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchRequest;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import servitor.core.engine.Reply;
import servitor.core.handbook.DirectoryAction;
import servitor.core.handbook.DirectoryLayout;
import servitor.core.handbook.DirectoryLayout.Groups;
import servitor.core.handbook.DirectoryLayout.People;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** What is done in a directory once it is connected to, going by the layout it has. Words from outside are values, never filters. */
final class DirectoryTalk {
    private static final int MOST_ENTRIES = 50;
    private static final int MOST_GROUPS = 500;
    private static final int MOST_WORDS = 5;

    private final LDAPConnection directory;
    private final String base;
    private final People people;
    private final Groups groups;

    DirectoryTalk(LDAPConnection directory, String base, DirectoryLayout layout) {
        this.directory = directory;
        this.base = base;
        this.people = layout.people();
        this.groups = layout.groups();
    }

    Reply carryOut(DirectoryAction action, ObjectNode args) throws LDAPException {
        if (action == DirectoryAction.FIND_PEOPLE) {
            return new Reply.Answered(200, search(args.path("words").asString("")));
        }
        String account = args.path("account").asString("");
        Optional<SearchResultEntry> found = person(account);
        if (found.isEmpty()) {
            return new Reply.Refused(
                    Problem.NOT_FOUND, "the directory knows nobody with the account ‘" + account + "’");
        }
        SearchResultEntry person = found.get();
        return switch (action) {
            case GROUPS -> {
                ObjectNode answer = Json.object();
                answer.set("groups", Json.of(groupsOf(person)));
                yield new Reply.Answered(200, answer);
            }
            case UNLOCK -> unlock(person, account);
            case SET_PASSWORD -> {
                String password = args.path("password").asString("");
                directory.modify(person.getDN(), new Modification(ModificationType.REPLACE, "userPassword", password));
                yield done(account, "changed", true);
            }
            case ADD_MEMBER, REMOVE_MEMBER ->
                member(person, args.path("group").asString(""), action == DirectoryAction.ADD_MEMBER);
            default -> new Reply.Answered(200, describe(person));
        };
    }

    private Reply unlock(SearchResultEntry person, String account) throws LDAPException {
        boolean locked = isLocked(person);
        if (locked) {
            directory.modify(
                    person.getDN(),
                    people.unlocked().isEmpty()
                            ? new Modification(ModificationType.DELETE, people.locked())
                            : new Modification(ModificationType.REPLACE, people.locked(), people.unlocked()));
        }
        return done(account, "unlocked", locked);
    }

    private boolean isLocked(SearchResultEntry person) {
        return person.hasAttribute(people.locked())
                && !person.getAttributeValue(people.locked()).equals(people.unlocked());
    }

    private Reply member(SearchResultEntry person, String group, boolean adds) throws LDAPException {
        Filter filter = ofGroups(Filter.createEqualityFilter(groups.name(), group));
        SearchResultEntry found =
                directory.searchForEntry(under(groups.base()), SearchScope.SUB, filter, groups.name());
        if (found == null) {
            return new Reply.Refused(Problem.NOT_FOUND, "the directory has no group ‘" + group + "’");
        }
        String account = text(person, people.account());
        try {
            directory.modify(
                    found.getDN(),
                    new Modification(
                            adds ? ModificationType.ADD : ModificationType.DELETE,
                            groups.member(),
                            groups.byAccount() ? account : person.getDN()));
            return done(account, "changed", true);
        } catch (LDAPException e) {
            ResultCode already = adds ? ResultCode.ATTRIBUTE_OR_VALUE_EXISTS : ResultCode.NO_SUCH_ATTRIBUTE;
            if (e.getResultCode().equals(already)) {
                return done(account, "changed", false);
            }
            throw e;
        }
    }

    private static Reply done(String account, String what, boolean changed) {
        return new Reply.Answered(200, Json.object().put("account", account).put(what, changed));
    }

    private Optional<SearchResultEntry> person(String account) throws LDAPException {
        Filter filter = ofPeople(Filter.createEqualityFilter(people.account(), account));
        return Optional.ofNullable(directory.searchForEntry(under(people.base()), SearchScope.SUB, filter, wanted()));
    }

    private String[] wanted() {
        return new String[] {people.account(), people.name(), people.mail(), people.title(), people.locked()};
    }

    private Filter ofPeople(Filter which) throws LDAPException {
        return all(people.objectClass(), people.filter(), which);
    }

    private Filter ofGroups(Filter which) throws LDAPException {
        return all(groups.objectClass(), groups.filter(), which);
    }

    private static Filter all(String objectClass, String more, Filter which) throws LDAPException {
        List<Filter> all = new ArrayList<>(List.of(Filter.createEqualityFilter("objectClass", objectClass), which));
        if (!more.isBlank()) {
            all.add(Filter.create(more));
        }
        return Filter.createANDFilter(all);
    }

    /** A base of the layout stands under the connection's. */
    private String under(String relative) throws LDAPException {
        return relative.isBlank() ? base : new DN(relative + (base.isEmpty() ? "" : "," + base)).toString();
    }

    private ObjectNode search(String words) throws LDAPException {
        List<Filter> each = Arrays.stream(words.strip().split("\\s+"))
                .limit(MOST_WORDS)
                .map(word -> Filter.createORFilter(
                        Filter.createSubAnyFilter(people.name(), word),
                        Filter.createSubAnyFilter(people.mail(), word),
                        Filter.createSubAnyFilter(people.title(), word)))
                .toList();
        SearchRequest request = new SearchRequest(
                under(people.base()), SearchScope.SUB, ofPeople(Filter.createANDFilter(each)), wanted());
        request.setSizeLimit(MOST_ENTRIES);
        var list = Json.mapper().createArrayNode();
        for (SearchResultEntry entry : entries(request)) {
            list.add(describe(entry));
        }
        ObjectNode answer = Json.object();
        answer.set("people", list);
        return answer;
    }

    /** As many as there are, up to what was asked for. */
    private List<SearchResultEntry> entries(SearchRequest request) throws LDAPException {
        try {
            return directory.search(request).getSearchEntries();
        } catch (LDAPSearchException e) {
            if (e.getResultCode().equals(ResultCode.SIZE_LIMIT_EXCEEDED)) {
                return e.getSearchEntries();
            }
            throw e;
        }
    }

    private ObjectNode describe(SearchResultEntry person) throws LDAPException {
        ObjectNode answer = Json.object()
                .put("account", text(person, people.account()))
                .put("name", text(person, people.name()))
                .put("mail", text(person, people.mail()))
                .put("title", text(person, people.title()))
                .put("locked", isLocked(person));
        answer.set("groups", Json.of(groupsOf(person)));
        return answer;
    }

    private static String text(SearchResultEntry entry, String attribute) {
        String value = entry.getAttributeValue(attribute);
        return value == null ? "" : value;
    }

    /** Groups are searched by member: not every directory keeps the way back. */
    private List<String> groupsOf(SearchResultEntry person) throws LDAPException {
        Set<String> names = new HashSet<>();
        Set<String> seen = new HashSet<>();
        List<String> members = List.of(groups.byAccount() ? text(person, people.account()) : person.getDN());
        while (!members.isEmpty() && names.size() < MOST_GROUPS) {
            List<String> next = new ArrayList<>();
            for (SearchResultEntry group : havingAny(members)) {
                names.add(text(group, groups.name()));
                if (seen.add(group.getDN()) && groups.nested()) {
                    next.add(group.getDN());
                }
            }
            members = next;
        }
        return names.stream().sorted().toList();
    }

    private List<SearchResultEntry> havingAny(List<String> members) throws LDAPException {
        Filter any = Filter.createORFilter(members.stream()
                .map(member -> Filter.createEqualityFilter(groups.member(), member))
                .toList());
        SearchRequest request = new SearchRequest(under(groups.base()), SearchScope.SUB, ofGroups(any), groups.name());
        request.setSizeLimit(MOST_GROUPS);
        return entries(request);
    }
}
