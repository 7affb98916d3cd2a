package servitor.standins;

import com.unboundid.ldap.listener.InMemoryDirectoryServer;
import com.unboundid.ldap.listener.InMemoryDirectoryServerConfig;
import com.unboundid.ldap.listener.InMemoryListenerConfig;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldif.LDIFException;
import java.net.InetAddress;
import java.net.URI;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The ferry line's staff directory, in memory. */
public final class Directory implements AutoCloseable {
    /** What the service signs in with. */
    public static final String USER = "cn=servitor,dc=skerryline,dc=example";

    public static final String SECRET = "harbour-light";
    private static final String BASE = "dc=skerryline,dc=example";
    private static final List<String> GROUPS = List.of("deck-crew", "ticket-office", "rosters", "harbour-notices");

    private final InMemoryDirectoryServer server;

    Directory(int port) {
        try {
            InMemoryDirectoryServerConfig config = new InMemoryDirectoryServerConfig(BASE);
            config.setSchema(null);
            config.setListenerConfigs(
                    InMemoryListenerConfig.createLDAPConfig("ldap", InetAddress.getLoopbackAddress(), port, null));
            config.addAdditionalBindCredentials(USER, SECRET);
            server = new InMemoryDirectoryServer(config);
            server.add(new Entry("dn: " + BASE, "objectClass: domain", "dc: skerryline"));
            for (Crew.Employee one : Crew.ALL) {
                server.add(new Entry(
                        "dn: " + dn(one.account()),
                        "objectClass: inetOrgPerson",
                        "uid: " + one.account(),
                        "cn: " + one.name(),
                        "sn: " + one.name(),
                        "mail: " + one.id() + "@skerryline.example",
                        "title: " + one.title(),
                        "userPassword: first-" + one.id()));
            }
            for (String group : GROUPS) {
                server.add(new Entry(
                        "dn: cn=" + group + "," + BASE,
                        "objectClass: groupOfNames",
                        "cn: " + group,
                        "member: " + dn("E-101")));
            }
            server.startListening();
        } catch (LDAPException | LDIFException e) {
            throw new IllegalStateException("the stand-in directory can't be started", e);
        }
    }

    private static String dn(String account) {
        return "uid=" + account + "," + BASE;
    }

    /** Where it is, with the base of people and groups. */
    public URI url() {
        return URI.create("ldap://127.0.0.1:" + server.getListenPort() + "/" + BASE);
    }

    /** Locks an account, as too many wrong passwords would. */
    public void lock(String account) {
        try {
            server.modify(
                    dn(account), new Modification(ModificationType.REPLACE, "pwdAccountLockedTime", "20261126080000Z"));
        } catch (LDAPException e) {
            throw new IllegalArgumentException("there is no account " + account, e);
        }
    }

    public boolean isLocked(String account) {
        return value(account, "pwdAccountLockedTime") != null;
    }

    /** The groups an account is in. */
    public List<String> groupsOf(String account) {
        return GROUPS.stream()
                .filter(group -> {
                    try {
                        return server.getEntry("cn=" + group + "," + BASE).hasAttributeValue("member", dn(account));
                    } catch (LDAPException e) {
                        throw new IllegalStateException(e);
                    }
                })
                .toList();
    }

    private @Nullable String value(String account, String attribute) {
        try {
            Entry entry = server.getEntry(dn(account));
            return entry == null ? null : entry.getAttributeValue(attribute);
        } catch (LDAPException e) {
            throw new IllegalStateException(e);
        }
    }

    @Override
    public void close() {
        server.shutDown(true);
    }
}
