package servitor.connectors.ldap;

import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPException;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;

/** OpenLDAP's server as a plain process on loopback, with the password policy that locks accounts. */
final class Slapd implements AutoCloseable {
    static final String BASE = "dc=skerryline,dc=example";
    private static final String ADMIN = "cn=admin," + BASE;
    private static final String PASSWORD = "harbour-master";

    private final Process process;
    private final int port;

    Slapd(Path folder) throws Exception {
        port = freePort();
        Path data = Files.createDirectories(folder.resolve("directory"));
        Path config = folder.resolve("slapd.conf");
        Files.writeString(config, """
                include /etc/ldap/schema/core.schema
                include /etc/ldap/schema/cosine.schema
                include /etc/ldap/schema/inetorgperson.schema
                include /etc/ldap/schema/nis.schema
                attributetype ( 1.3.6.1.4.1.99999.1 NAME 'sAMAccountName' EQUALITY caseIgnoreMatch SUBSTR caseIgnoreSubstringsMatch
                  SYNTAX 1.3.6.1.4.1.1466.115.121.1.15 SINGLE-VALUE )
                attributetype ( 1.3.6.1.4.1.99999.2 NAME 'lockoutTime' EQUALITY integerMatch SYNTAX 1.3.6.1.4.1.1466.115.121.1.27 SINGLE-VALUE )
                objectclass ( 1.3.6.1.4.1.99999.3 NAME 'user' SUP inetOrgPerson STRUCTURAL MAY ( sAMAccountName $ lockoutTime ) )
                objectclass ( 1.3.6.1.4.1.99999.4 NAME 'group' SUP top STRUCTURAL MUST cn MAY member )
                modulepath /usr/lib/ldap
                moduleload back_mdb
                moduleload ppolicy
                pidfile %s/slapd.pid
                database mdb
                suffix "%s"
                rootdn "%s"
                rootpw %s
                directory %s
                overlay ppolicy
                ppolicy_default "cn=policy,%s"
                """.formatted(folder, BASE, ADMIN, PASSWORD, data, BASE));
        process = new ProcessBuilder(
                        "/usr/sbin/slapd", "-f", config.toString(), "-h", "ldap://127.0.0.1:" + port, "-d", "0")
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("slapd.log").toFile())
                .start();
        fill();
    }

    URI url() {
        return URI.create("ldap://127.0.0.1:" + port + "/" + BASE);
    }

    String admin() {
        return ADMIN;
    }

    String password() {
        return PASSWORD;
    }

    LDAPConnection signIn(String dn, String password) throws LDAPException {
        return new LDAPConnection("127.0.0.1", port, dn, password);
    }

    static String person(String account) {
        return "uid=" + account + "," + BASE;
    }

    private void fill() throws Exception {
        try (LDAPConnection admin = connect()) {
            admin.add("dn: " + BASE, "objectClass: domain", "dc: skerryline");
            admin.add(
                    "dn: cn=policy," + BASE,
                    "objectClass: person",
                    "objectClass: pwdPolicy",
                    "cn: policy",
                    "sn: policy",
                    "pwdAttribute: userPassword",
                    "pwdLockout: TRUE",
                    "pwdMaxFailure: 2");
            for (String account : new String[] {"ewan", "dagny"}) {
                admin.add(
                        "dn: " + person(account),
                        "objectClass: inetOrgPerson",
                        "uid: " + account,
                        "cn: " + account + " of the line",
                        "sn: line",
                        "mail: " + account + "@skerryline.example",
                        "title: deckhand",
                        "userPassword: first-" + account);
            }
            admin.add("dn: cn=deck," + BASE, "objectClass: groupOfNames", "cn: deck", "member: " + person("dagny"));
        }
    }

    /** Adds an entry that another layout has. */
    void add(String... lines) throws Exception {
        try (LDAPConnection admin = connect()) {
            admin.add(lines);
        }
    }

    private LDAPConnection connect() throws Exception {
        for (int tries = 0; ; tries++) {
            try {
                return signIn(ADMIN, PASSWORD);
            } catch (LDAPException e) {
                if (tries == 200 || !process.isAlive()) {
                    throw e;
                }
                TimeUnit.MILLISECONDS.sleep(50);
            }
        }
    }

    private static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    @Override
    public void close() {
        process.destroyForcibly();
    }
}
