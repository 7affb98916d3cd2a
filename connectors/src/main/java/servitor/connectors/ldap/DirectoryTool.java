package servitor.connectors.ldap;

import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPConnectionOptions;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldap.sdk.NameResolver;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchRequest;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.util.ssl.SSLSocketVerifier;
import com.unboundid.util.ssl.SSLUtil;
import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.security.GeneralSecurityException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.SSLSocket;
import org.apache.hc.client5.http.ssl.DefaultHostnameVerifier;
import servitor.connectors.access.Access;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Route;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.Directory;
import servitor.core.handbook.DirectoryAction;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/**
 * A staff directory over LDAP (RFC 4511). The address holds the base that people and groups stand under, as in {@code
 * ldaps://directory.example/dc=skerry,dc=example}; people are {@code inetOrgPerson} (RFC 2798), groups {@code
 * groupOfNames}, and an account is locked while it has {@code pwdAccountLockedTime} (the password policy draft).
 */
public final class DirectoryTool implements Connector<Directory> {
    private final SSLUtil tls;

    public DirectoryTool() {
        this(new SSLUtil());
    }

    /** The same, trusting whom {@code tls} trusts. */
    DirectoryTool(SSLUtil tls) {
        this.tls = tls;
    }

    /** Looks names up where it is decided whether they may be talked to. */
    private static final class Names extends NameResolver {
        private final boolean inside;

        Names(boolean inside) {
            this.inside = inside;
        }

        @Override
        public InetAddress getByName(String host) throws UnknownHostException {
            return Route.of(host, inside)[0];
        }

        @Override
        public InetAddress[] getAllByName(String host) throws UnknownHostException {
            return Route.of(host, inside);
        }

        @Override
        public void toString(StringBuilder out) {
            out.append("names").append(inside ? " inside" : " outside");
        }
    }

    /** A certificate of another host is none, wherever the host is (RFC 2818, 3.1). */
    private static final class NameOnCertificate extends SSLSocketVerifier {
        private static final DefaultHostnameVerifier NAMES = new DefaultHostnameVerifier();

        @Override
        public void verifySSLSocket(String host, int port, SSLSocket socket) throws LDAPException {
            if (!NAMES.verify(host, socket.getSession())) {
                throw new LDAPException(ResultCode.CONNECT_ERROR, "the certificate isn't for " + host);
            }
        }
    }

    private static final int MOST_ENTRIES = 50;
    private static final int CONNECT_MILLIS = 3_000;
    private static final String LOCKED = "pwdAccountLockedTime";
    private static final String[] PERSON = {"uid", "cn", "mail", "title", LOCKED};

    @Override
    public Reply call(Access access, Directory binding, ObjectNode args, String key, Deadline deadline) {
        boolean[] changing = {false};
        try (LDAPConnection directory = connect(access, deadline);
                Deadline.Cut cut = deadline.cut(directory::close)) {
            changing[0] = binding.action().effect().acts();
            return carryOut(directory, base(access), binding, args);
        } catch (LDAPException e) {
            return failed(access, e, changing[0], deadline);
        }
    }

    @Override
    public Reply test(Access access, Deadline deadline) {
        try (LDAPConnection directory = connect(access, deadline);
                Deadline.Cut cut = deadline.cut(directory::close)) {
            boolean there = directory.getEntry(base(access), "1.1") != null;
            return there
                    ? new Reply.Answered(200, Json.object().put("base", base(access)))
                    : new Reply.Refused(Problem.NOT_FOUND, "the directory has no ‘" + base(access) + "’");
        } catch (LDAPException e) {
            return failed(access, e, false, deadline);
        }
    }

    private static String base(Access access) {
        String path = access.address().getPath();
        return path == null || path.length() < 2 ? "" : path.substring(1);
    }

    private LDAPConnection connect(Access access, Deadline deadline) throws LDAPException {
        URI address = access.address();
        boolean secure = "ldaps".equals(address.getScheme());
        LDAPConnectionOptions options = new LDAPConnectionOptions();
        options.setConnectTimeoutMillis(Math.min(CONNECT_MILLIS, deadline.millis()));
        options.setResponseTimeoutMillis(deadline.millis());
        options.setMaxMessageSize(LONGEST_ANSWER);
        options.setFollowReferrals(false);
        options.setSSLSocketVerifier(new NameOnCertificate());
        options.setNameResolver(new Names(access.inside()));
        int port = address.getPort() > 0 ? address.getPort() : secure ? 636 : 389;
        LDAPConnection connection;
        try {
            connection = secure
                    ? new LDAPConnection(tls.createSSLSocketFactory(), options, address.getHost(), port)
                    : new LDAPConnection(options, address.getHost(), port);
        } catch (GeneralSecurityException e) {
            throw new LDAPException(ResultCode.CONNECT_ERROR, "TLS isn't available", e);
        }
        if (access.credentials() instanceof Credentials.Password password) {
            try {
                connection.bind(password.user(), password.secret());
            } catch (LDAPException e) {
                connection.close();
                throw e;
            }
        }
        return connection;
    }

    private static Reply carryOut(LDAPConnection directory, String base, Directory binding, ObjectNode args)
            throws LDAPException {
        if (binding.action() == DirectoryAction.FIND_PEOPLE) {
            return new Reply.Answered(
                    200, search(directory, base, args.path("words").asString("")));
        }
        String account = args.path("account").asString("");
        Optional<SearchResultEntry> found = person(directory, base, account);
        if (found.isEmpty()) {
            return new Reply.Refused(
                    Problem.NOT_FOUND, "the directory knows nobody with the account ‘" + account + "’");
        }
        SearchResultEntry person = found.get();
        return switch (binding.action()) {
            case GROUPS -> {
                ObjectNode answer = Json.object();
                answer.set("groups", Json.of(groups(directory, base, person.getDN())));
                yield new Reply.Answered(200, answer);
            }
            case UNLOCK -> {
                boolean locked = person.hasAttribute(LOCKED);
                if (locked) {
                    directory.modify(person.getDN(), new Modification(ModificationType.DELETE, LOCKED));
                }
                yield done(account, "unlocked", locked);
            }
            case SET_PASSWORD -> {
                directory.modify(
                        person.getDN(),
                        new Modification(
                                ModificationType.REPLACE,
                                "userPassword",
                                args.path("password").asString("")));
                yield done(account, "changed", true);
            }
            case ADD_MEMBER, REMOVE_MEMBER -> member(directory, base, person, binding, args);
            default -> new Reply.Answered(200, describe(directory, base, person));
        };
    }

    private static Reply member(
            LDAPConnection directory, String base, SearchResultEntry person, Directory binding, ObjectNode args)
            throws LDAPException {
        String group = args.path("group").asString("");
        Filter filter = Filter.createANDFilter(
                Filter.createEqualityFilter("objectClass", "groupOfNames"), Filter.createEqualityFilter("cn", group));
        SearchResultEntry found = directory.searchForEntry(base, SearchScope.SUB, filter, "cn");
        if (found == null) {
            return new Reply.Refused(Problem.NOT_FOUND, "the directory has no group ‘" + group + "’");
        }
        boolean adds = binding.action() == DirectoryAction.ADD_MEMBER;
        try {
            directory.modify(
                    found.getDN(),
                    new Modification(adds ? ModificationType.ADD : ModificationType.DELETE, "member", person.getDN()));
            return done(person.getAttributeValue("uid"), "changed", true);
        } catch (LDAPException e) {
            ResultCode already = adds ? ResultCode.ATTRIBUTE_OR_VALUE_EXISTS : ResultCode.NO_SUCH_ATTRIBUTE;
            if (e.getResultCode().equals(already)) {
                return done(person.getAttributeValue("uid"), "changed", false);
            }
            throw e;
        }
    }

    private static Reply done(String account, String what, boolean changed) {
        return new Reply.Answered(200, Json.object().put("account", account).put(what, changed));
    }

    private static Optional<SearchResultEntry> person(LDAPConnection directory, String base, String account)
            throws LDAPException {
        Filter filter = Filter.createANDFilter(
                Filter.createEqualityFilter("objectClass", "inetOrgPerson"),
                Filter.createEqualityFilter("uid", account));
        return Optional.ofNullable(directory.searchForEntry(base, SearchScope.SUB, filter, PERSON));
    }

    private static ObjectNode search(LDAPConnection directory, String base, String words) throws LDAPException {
        List<Filter> each = Arrays.stream(words.strip().split("\\s+"))
                .limit(5)
                .map(word -> Filter.createORFilter(
                        Filter.createSubAnyFilter("cn", word),
                        Filter.createSubAnyFilter("mail", word),
                        Filter.createSubAnyFilter("title", word)))
                .toList();
        Filter people = Filter.createEqualityFilter("objectClass", "inetOrgPerson");
        SearchRequest request = new SearchRequest(
                base, SearchScope.SUB, Filter.createANDFilter(people, Filter.createANDFilter(each)), PERSON);
        request.setSizeLimit(MOST_ENTRIES);
        var list = Json.mapper().createArrayNode();
        List<SearchResultEntry> entries;
        try {
            entries = directory.search(request).getSearchEntries();
        } catch (com.unboundid.ldap.sdk.LDAPSearchException e) {
            if (!e.getResultCode().equals(ResultCode.SIZE_LIMIT_EXCEEDED)) {
                throw e;
            }
            entries = e.getSearchEntries();
        }
        for (SearchResultEntry entry : entries) {
            list.add(describe(directory, base, entry));
        }
        ObjectNode answer = Json.object();
        answer.set("people", list);
        return answer;
    }

    private static ObjectNode describe(LDAPConnection directory, String base, SearchResultEntry person)
            throws LDAPException {
        ObjectNode answer = Json.object()
                .put("account", text(person, "uid"))
                .put("name", text(person, "cn"))
                .put("mail", text(person, "mail"))
                .put("title", text(person, "title"))
                .put("locked", person.hasAttribute(LOCKED));
        answer.set("groups", Json.of(groups(directory, base, person.getDN())));
        return answer;
    }

    private static String text(SearchResultEntry entry, String attribute) {
        String value = entry.getAttributeValue(attribute);
        return value == null ? "" : value;
    }

    /** Groups are searched by member: not every directory keeps the way back. */
    private static List<String> groups(LDAPConnection directory, String base, String dn) throws LDAPException {
        Filter filter = Filter.createANDFilter(
                Filter.createEqualityFilter("objectClass", "groupOfNames"), Filter.createEqualityFilter("member", dn));
        SearchRequest request = new SearchRequest(base, SearchScope.SUB, filter, "cn");
        return directory.search(request).getSearchEntries().stream()
                .map(entry -> text(entry, "cn"))
                .sorted()
                .toList();
    }

    private static Reply failed(Access access, LDAPException e, boolean changing, Deadline deadline) {
        String where = access.address().getHost();
        ResultCode code = e.getResultCode();
        if (code.equals(ResultCode.CONNECT_ERROR)) {
            return new Reply.NotSent(where + " can't be reached");
        } else if (code.equals(ResultCode.INVALID_CREDENTIALS)) {
            return new Reply.Refused(Problem.REFUSED, where + " doesn't accept the connection's credentials");
        } else if (code.equals(ResultCode.TIMEOUT)) {
            return new Reply.Unknown(where + " didn't answer in time", true);
        } else if (code.equals(ResultCode.SERVER_DOWN) || code.equals(ResultCode.DECODING_ERROR)) {
            return changing
                    ? new Reply.Unknown("the connection to " + where + " broke", deadline.hasPassed())
                    : new Reply.NotSent(where + " broke the connection");
        } else if (code.equals(ResultCode.INSUFFICIENT_ACCESS_RIGHTS)) {
            return new Reply.Refused(Problem.REFUSED, where + " doesn't let the connection's account do this");
        }
        return new Reply.Refused(Problem.INVALID, where + " answered " + code.getName());
    }
}
