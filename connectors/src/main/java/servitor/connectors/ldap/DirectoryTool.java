package servitor.connectors.ldap;

import com.unboundid.ldap.sdk.ExtendedResult;
import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPConnectionOptions;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.NameResolver;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.extensions.StartTLSExtendedRequest;
import com.unboundid.util.ssl.SSLSocketVerifier;
import com.unboundid.util.ssl.SSLUtil;
import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.security.GeneralSecurityException;
import javax.net.ssl.SSLSocket;
import org.apache.hc.client5.http.ssl.DefaultHostnameVerifier;
import servitor.connectors.access.Access;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Route;
import servitor.connectors.access.Trust;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.Directory;
import servitor.core.handbook.DirectoryLayout;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/**
 * A staff directory over LDAP (RFC 4511). The address holds the base that people and groups stand under, as in {@code
 * ldaps://directory.example/dc=skerry,dc=example}; {@code ldap+tls} begins in the clear and goes on over TLS before anything is said
 * (StartTLS, RFC 4511, section 4.14). How people and groups are kept there is the tool file's to say ({@link DirectoryLayout}).
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

    private static final int CONNECT_MILLIS = 3_000;

    @Override
    public Reply call(Access access, Directory binding, ObjectNode args, String key, Deadline deadline) {
        boolean[] changing = {false};
        try (LDAPConnection directory = connect(access, deadline);
                Deadline.Cut cut = deadline.cut(directory::close)) {
            changing[0] = binding.action().effect().acts();
            return new DirectoryTalk(directory, base(access), binding.layout()).carryOut(binding.action(), args);
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
                    ? new LDAPConnection(tls(access).createSSLSocketFactory(), options, address.getHost(), port)
                    : new LDAPConnection(options, address.getHost(), port);
            if ("ldap+tls".equals(address.getScheme())) {
                startTls(connection, tls(access));
            }
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

    private SSLUtil tls(Access access) throws GeneralSecurityException {
        return access.trust().equals(Trust.MACHINE)
                ? tls
                : new SSLUtil(null, access.trust().managers());
    }

    /** Nothing goes on in the clear when the server won't, or its certificate is another's. */
    private static void startTls(LDAPConnection connection, SSLUtil tls)
            throws LDAPException, GeneralSecurityException {
        try {
            ExtendedResult result =
                    connection.processExtendedOperation(new StartTLSExtendedRequest(tls.createSSLSocketFactory()));
            if (!result.getResultCode().equals(ResultCode.SUCCESS)) {
                throw new LDAPException(ResultCode.CONNECT_ERROR, "it doesn't speak TLS");
            }
        } catch (LDAPException e) {
            connection.close();
            throw new LDAPException(ResultCode.CONNECT_ERROR, e.getMessage(), e);
        }
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
