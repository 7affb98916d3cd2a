package servitor.connectors.ldap;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.unboundid.ldap.listener.InMemoryDirectoryServer;
import com.unboundid.ldap.listener.InMemoryDirectoryServerConfig;
import com.unboundid.ldap.listener.InMemoryListenerConfig;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.util.ssl.KeyStoreKeyManager;
import com.unboundid.util.ssl.SSLUtil;
import com.unboundid.util.ssl.TrustAllTrustManager;
import java.net.InetAddress;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.connectors.access.Access;
import servitor.connectors.access.Certified;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.Directory;
import servitor.core.handbook.DirectoryAction;
import servitor.core.handbook.DirectoryLayout;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** The directory connector against OpenLDAP. */
@Tag("outside")
class DirectoryToolTests {
    private static final Duration LIMIT = Duration.ofSeconds(5);

    @TempDir
    private static Path folder;

    private static Slapd slapd;
    private final DirectoryTool tool = new DirectoryTool();

    @BeforeAll
    static void start() throws Exception {
        slapd = new Slapd(folder);
    }

    @AfterAll
    static void stop() {
        slapd.close();
    }

    private static Access access() {
        return new Access(slapd.url(), new Credentials.Password(slapd.admin(), slapd.password()), true);
    }

    private DirectoryLayout layout = DirectoryLayout.INET;

    private Reply call(DirectoryAction action, String... args) {
        var inputs = Json.object();
        for (int i = 0; i < args.length; i += 2) {
            inputs.put(args[i], args[i + 1]);
        }
        return tool.call(access(), new Directory("directory", action, layout), inputs, "key", Deadline.in(LIMIT));
    }

    private JsonNode answer(DirectoryAction action, String... args) {
        Reply reply = call(action, args);
        assertThat(reply).isInstanceOf(Reply.Answered.class);
        return ((Reply.Answered) reply).body();
    }

    @Test
    void aPersonIsFoundWithGroups() {
        JsonNode dagny = answer(DirectoryAction.FIND_PERSON, "account", "dagny");

        assertThat(dagny.path("name").asString()).isEqualTo("dagny of the line");
        assertThat(dagny.path("locked").asBoolean()).isFalse();
        assertThat(dagny.path("groups")).isEqualTo(Json.of(new String[] {"deck"}));
    }

    @Test
    void wordsFindPeopleAndAreNeverPartOfTheFilter() {
        assertThat(answer(DirectoryAction.FIND_PEOPLE, "words", "deckhand ewan").path("people"))
                .hasSize(1);
        assertThat(answer(DirectoryAction.FIND_PEOPLE, "words", "*)(uid=*").path("people"))
                .isEmpty();
        assertThat(call(DirectoryAction.FIND_PERSON, "account", "*"))
                .isEqualTo(new Reply.Refused("not-found", "the directory knows nobody with the account ‘*’"));
    }

    @Test
    void aLockedAccountIsUnlocked() throws Exception {
        for (int i = 0; i < 2; i++) {
            assertThatThrownBy(() -> slapd.signIn(Slapd.person("ewan"), "wrong"))
                    .isInstanceOf(LDAPException.class);
        }
        assertThat(answer(DirectoryAction.FIND_PERSON, "account", "ewan")
                        .path("locked")
                        .asBoolean())
                .isTrue();

        assertThat(answer(DirectoryAction.UNLOCK, "account", "ewan")
                        .path("unlocked")
                        .asBoolean())
                .isTrue();
        assertThat(answer(DirectoryAction.UNLOCK, "account", "ewan")
                        .path("unlocked")
                        .asBoolean())
                .as("a second time there is nothing to do")
                .isFalse();
        slapd.signIn(Slapd.person("ewan"), "first-ewan").close();
    }

    @Test
    void aPasswordIsSet() throws Exception {
        answer(DirectoryAction.SET_PASSWORD, "account", "dagny", "password", "from-now-on-7");

        slapd.signIn(Slapd.person("dagny"), "from-now-on-7").close();
    }

    @Test
    void membersComeAndGoAndTwiceIsOnce() {
        assertThat(answer(DirectoryAction.ADD_MEMBER, "account", "ewan", "group", "deck")
                        .path("changed")
                        .asBoolean())
                .isTrue();
        assertThat(answer(DirectoryAction.ADD_MEMBER, "account", "ewan", "group", "deck")
                        .path("changed")
                        .asBoolean())
                .isFalse();
        assertThat(answer(DirectoryAction.GROUPS, "account", "ewan").path("groups"))
                .hasSize(1);
        assertThat(answer(DirectoryAction.REMOVE_MEMBER, "account", "ewan", "group", "deck")
                        .path("changed")
                        .asBoolean())
                .isTrue();
        assertThat(call(DirectoryAction.ADD_MEMBER, "account", "ewan", "group", "bridge"))
                .isEqualTo(new Reply.Refused("not-found", "the directory has no group ‘bridge’"));
    }

    /** A directory over TLS whose certificate is for {@code name}. */
    private static InMemoryDirectoryServer certified(Path folder, String name, String names) throws Exception {
        return certified(folder, name, names, false);
    }

    private static InMemoryDirectoryServer certified(Path folder, String name, String names, boolean later)
            throws Exception {
        Path store = Certified.of(folder, name, names).store();
        InMemoryDirectoryServerConfig config = new InMemoryDirectoryServerConfig("dc=skerryline,dc=example");
        SSLUtil keys = new SSLUtil(
                new KeyStoreKeyManager(store.toFile(), Certified.PASSWORD.toCharArray(), "PKCS12", "it"),
                new TrustAllTrustManager());
        config.setListenerConfigs(
                later
                        ? InMemoryListenerConfig.createLDAPConfig(
                                "later", InetAddress.getLoopbackAddress(), 0, keys.createSSLSocketFactory())
                        : InMemoryListenerConfig.createLDAPSConfig(
                                "tls", InetAddress.getLoopbackAddress(), 0, keys.createSSLServerSocketFactory(), null));
        InMemoryDirectoryServer server = new InMemoryDirectoryServer(config);
        server.add("dn: dc=skerryline,dc=example", "objectClass: domain", "dc: skerryline");
        server.startListening();
        return server;
    }

    @Test
    void aCertificateOfAnotherHostIsNotTalkedTo(@TempDir Path folder) throws Exception {
        DirectoryTool trusting = new DirectoryTool(new SSLUtil(new TrustAllTrustManager()));
        try (InMemoryDirectoryServer own = certified(folder, "own", "dns:localhost");
                InMemoryDirectoryServer other = certified(folder, "other", "dns:other.example")) {
            assertThat(trusting.test(tls(own, "localhost"), Deadline.in(LIMIT))).isInstanceOf(Reply.Answered.class);
            assertThat(trusting.test(tls(other, "localhost"), Deadline.in(LIMIT)))
                    .isInstanceOf(Reply.NotSent.class);
            assertThat(trusting.test(tls(other, "127.0.0.1"), Deadline.in(LIMIT)))
                    .as("an address in digits needs its certificate, too")
                    .isInstanceOf(Reply.NotSent.class);
        }
    }

    private static Access tls(InMemoryDirectoryServer server, String host) {
        return new Access(
                URI.create("ldaps://" + host + ":" + server.getListenPort() + "/dc=skerryline,dc=example"),
                new Credentials.None(),
                true);
    }

    @Test
    void aTestSaysWhetherSigningInWorks() {
        assertThat(tool.test(access(), Deadline.in(LIMIT))).isInstanceOf(Reply.Answered.class);
        assertThat(tool.test(
                        new Access(slapd.url(), new Credentials.Password(slapd.admin(), "wrong"), true),
                        Deadline.in(LIMIT)))
                .isEqualTo(new Reply.Refused("refused", "127.0.0.1 doesn't accept the connection's credentials"));
        assertThat(tool.test(
                        new Access(URI.create("ldap://127.0.0.1:1/dc=x"), new Credentials.None(), true),
                        Deadline.in(LIMIT)))
                .isEqualTo(new Reply.NotSent("127.0.0.1 can't be reached"));
    }

    private static void unit(String name) throws Exception {
        slapd.add("dn: ou=" + name + "," + Slapd.BASE, "objectClass: organizationalUnit", "ou: " + name);
    }

    @Test
    void accountsAndGroupsOfPosixAreFound() throws Exception {
        unit("posix");
        String under = ",ou=posix," + Slapd.BASE;
        slapd.add(
                "dn: uid=noor" + under,
                "objectClass: inetOrgPerson",
                "objectClass: posixAccount",
                "uid: noor",
                "cn: Noor",
                "sn: C",
                "uidNumber: 7",
                "gidNumber: 7",
                "homeDirectory: /home/noor");
        slapd.add("dn: cn=auditors" + under, "objectClass: posixGroup", "cn: auditors", "gidNumber: 8");
        layout = DirectoryLayout.POSIX;

        assertThat(answer(DirectoryAction.ADD_MEMBER, "account", "noor", "group", "auditors")
                        .path("changed")
                        .asBoolean())
                .isTrue();
        assertThat(answer(DirectoryAction.FIND_PERSON, "account", "noor").path("groups"))
                .hasToString("[\"auditors\"]");
        assertThat(call(DirectoryAction.FIND_PERSON, "account", "ewan"))
                .as("who isn't of that class isn't there")
                .isInstanceOf(Reply.Refused.class);
    }

    @Test
    void groupsWithinGroupsAndLockedAccountsOfADomainAreFound() throws Exception {
        unit("domain");
        String under = ",ou=domain," + Slapd.BASE;
        slapd.add(
                "dn: cn=Priya" + under,
                "objectClass: user",
                "cn: Priya",
                "sn: S",
                "sAMAccountName: priya",
                "displayName: Priya S.",
                "lockoutTime: 133");
        slapd.add("dn: cn=people" + under, "objectClass: group", "cn: people", "member: cn=Priya" + under);
        slapd.add(
                "dn: cn=staff" + under,
                "objectClass: group",
                "cn: staff",
                "member: cn=people" + under,
                "member: cn=loop" + under);
        slapd.add("dn: cn=loop" + under, "objectClass: group", "cn: loop", "member: cn=staff" + under);
        layout = DirectoryLayout.DOMAIN;

        JsonNode priya = answer(DirectoryAction.FIND_PERSON, "account", "priya");
        assertThat(priya.path("name").asString()).isEqualTo("Priya S.");
        assertThat(priya.path("groups")).hasToString("[\"loop\",\"people\",\"staff\"]");
        assertThat(priya.path("locked").asBoolean()).isTrue();
        assertThat(answer(DirectoryAction.UNLOCK, "account", "priya")
                        .path("unlocked")
                        .asBoolean())
                .isTrue();
        assertThat(answer(DirectoryAction.FIND_PERSON, "account", "priya")
                        .path("locked")
                        .asBoolean())
                .isFalse();
    }

    @Test
    void aLayoutOfTheHousesOwnIsFound() throws Exception {
        unit("crew");
        unit("teams");
        slapd.add(
                "dn: cn=Teun,ou=crew," + Slapd.BASE,
                "objectClass: inetOrgPerson",
                "cn: Teun",
                "sn: A",
                "employeeNumber: E-7",
                "employeeType: crew");
        slapd.add(
                "dn: cn=Old,ou=crew," + Slapd.BASE,
                "objectClass: inetOrgPerson",
                "cn: Old",
                "sn: A",
                "employeeNumber: E-8",
                "employeeType: gone");
        slapd.add(
                "dn: cn=engine,ou=teams," + Slapd.BASE,
                "objectClass: groupOfUniqueNames",
                "cn: engine",
                "uniqueMember: cn=Teun,ou=crew," + Slapd.BASE);
        layout = new DirectoryLayout(
                new DirectoryLayout.People(
                        "inetOrgPerson",
                        "ou=crew",
                        "(employeeType=crew)",
                        "employeeNumber",
                        "cn",
                        "mail",
                        "title",
                        "pwdAccountLockedTime",
                        ""),
                new DirectoryLayout.Groups("groupOfUniqueNames", "ou=teams", "", "cn", "uniqueMember", false, false));

        assertThat(answer(DirectoryAction.FIND_PERSON, "account", "E-7").path("groups"))
                .hasToString("[\"engine\"]");
        assertThat(call(DirectoryAction.FIND_PERSON, "account", "E-8")).isInstanceOf(Reply.Refused.class);
        assertThat(answer(DirectoryAction.FIND_PEOPLE, "words", "e").path("people"))
                .hasSize(1);
    }

    @Test
    void tlsThatBeginsInTheClearChecksTheNameAndNeverGoesOnWithout(@TempDir Path folder) throws Exception {
        DirectoryTool trusting = new DirectoryTool(new SSLUtil(new TrustAllTrustManager()));
        try (InMemoryDirectoryServer own = certified(folder, "own-later", "dns:localhost", true);
                InMemoryDirectoryServer other = certified(folder, "other-later", "dns:other.example", true)) {
            assertThat(trusting.test(later(own.getListenPort()), Deadline.in(LIMIT)))
                    .isInstanceOf(Reply.Answered.class);
            assertThat(trusting.test(later(other.getListenPort()), Deadline.in(LIMIT)))
                    .isInstanceOf(Reply.NotSent.class);
            assertThat(tool.test(later(own.getListenPort()), Deadline.in(LIMIT)))
                    .as("nobody trusts whoever signed this")
                    .isInstanceOf(Reply.NotSent.class);
            assertThat(trusting.test(later(slapd.url().getPort()), Deadline.in(LIMIT)))
                    .as("this one doesn't speak TLS")
                    .isInstanceOf(Reply.NotSent.class);
        }
    }

    private static Access later(int port) {
        return new Access(
                URI.create("ldap+tls://localhost:" + port + "/dc=skerryline,dc=example"), new Credentials.None(), true);
    }
}
