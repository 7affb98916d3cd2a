package servitor.connectors.terminal;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.util.concurrent.atomic.AtomicReference;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.channel.ChannelShell;
import org.apache.sshd.client.config.hosts.HostConfigEntryResolver;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.digest.BuiltinDigests;
import org.apache.sshd.common.keyprovider.KeyIdentityProvider;
import org.apache.sshd.common.util.security.SecurityUtils;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Route;

/**
 * A shell without a terminal's echo, over SSH (RFC 4251 to 4254). The address names the host's key, and no other host is talked
 * to: {@code ssh://host:22?host-key=SHA256:...}, the fingerprint as RFC 4648 base 64 without padding. One signs in with a
 * password or a private key; nothing of this machine's own SSH settings or keys is used.
 */
final class SecureShell implements Wire {
    private static final Logger LOG = LoggerFactory.getLogger(SecureShell.class);
    private static final String HOST_KEY = "host-key=";
    private static final int PORT = 22;

    private final SshClient client;
    private final ClientSession session;
    private final ChannelShell shell;

    private SecureShell(SshClient client, ClientSession session, ChannelShell shell) {
        this.client = client;
        this.session = session;
        this.shell = shell;
    }

    static SecureShell open(Access access, Deadline deadline) throws IOException {
        AtomicReference<@Nullable String> shown = new AtomicReference<>();
        SshClient client = client(hostKey(access.address()), shown);
        try {
            client.start();
            ClientSession session = signIn(client, access, shown, deadline);
            ChannelShell shell = session.createShellChannel();
            shell.setUsePty(false);
            shell.setRedirectErrorStream(true);
            shell.open().verify(deadline.left());
            return new SecureShell(client, session, shell);
        } catch (IOException | RuntimeException e) {
            client.stop();
            throw e;
        }
    }

    private static SshClient client(String expected, AtomicReference<@Nullable String> shown) {
        SshClient client = SshClient.setUpDefaultClient();
        client.setHostConfigEntryResolver(HostConfigEntryResolver.EMPTY);
        client.setKeyIdentityProvider(KeyIdentityProvider.EMPTY_KEYS_PROVIDER);
        client.setServerKeyVerifier((session, address, key) -> {
            String fingerprint = KeyUtils.getFingerPrint(BuiltinDigests.sha256, key);
            shown.set(fingerprint);
            return expected.equals(fingerprint);
        });
        return client;
    }

    private static String hostKey(URI address) throws NotLetIn {
        String query = String.valueOf(address.getRawQuery());
        if (!query.startsWith(HOST_KEY)) {
            throw new NotLetIn("the connection doesn't say which key the host has");
        }
        return query.substring(HOST_KEY.length());
    }

    private static ClientSession signIn(
            SshClient client, Access access, AtomicReference<@Nullable String> shown, Deadline deadline)
            throws IOException {
        URI address = access.address();
        String user = access.credentials() instanceof Credentials.Password password
                ? password.user()
                : access.credentials() instanceof Credentials.Key key ? key.user() : "";
        int port = address.getPort() < 0 ? PORT : address.getPort();
        ClientSession session = client.connect(
                        user, new InetSocketAddress(Route.of(address.getHost(), access.inside())[0], port))
                .verify(deadline.left())
                .getClientSession();
        if (access.credentials() instanceof Credentials.Password password) {
            session.addPasswordIdentity(password.secret());
        } else if (access.credentials() instanceof Credentials.Key key) {
            session.addPublicKeyIdentity(keyPair(key));
        }
        try {
            session.auth().verify(deadline.left());
            return session;
        } catch (IOException e) {
            String fingerprint = shown.get();
            if (fingerprint == null) {
                throw e; // it never came to signing in
            }
            throw new NotLetIn(
                    fingerprint.equals(hostKey(address))
                            ? "the host doesn't let us in"
                            : "the host shows the key " + fingerprint + ", not the one that the connection names");
        }
    }

    private static KeyPair keyPair(Credentials.Key key) throws IOException {
        @Nullable Iterable<KeyPair> found = null;
        try (InputStream in = new ByteArrayInputStream(key.secret().getBytes(StandardCharsets.UTF_8))) {
            found = SecurityUtils.loadKeyPairIdentities(null, NamedResource.ofName("the connection's key"), in, null);
        } catch (GeneralSecurityException | IOException | IllegalArgumentException e) {
            LOG.debug("The private key of a connection can't be read.", e);
        }
        if (found == null || !found.iterator().hasNext()) {
            throw new NotLetIn("the connection's private key can't be read");
        }
        return found.iterator().next();
    }

    @Override
    public InputStream heard() {
        return shell.getInvertedOut();
    }

    @Override
    public OutputStream said() {
        return shell.getInvertedIn();
    }

    @Override
    public String lineEnd() {
        return "\n";
    }

    @Override
    public void close() throws IOException {
        shell.close(true);
        session.close(true);
        client.stop();
    }
}
