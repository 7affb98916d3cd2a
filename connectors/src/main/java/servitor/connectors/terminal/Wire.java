package servitor.connectors.terminal;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.time.Duration;
import servitor.connectors.access.Access;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Route;

/** What a dialogue goes over: what the other side says, and what is said to it. */
interface Wire extends AutoCloseable {
    Duration CONNECT = Duration.ofSeconds(3);
    Duration SIGN_IN = Duration.ofSeconds(9);

    InputStream heard();

    OutputStream said();

    /** What ends a line that is said. */
    String lineEnd();

    @Override
    void close() throws IOException;

    /** The other side is not the one meant, or doesn't let us in. */
    final class NotLetIn extends IOException {
        private static final long serialVersionUID = 1L;

        NotLetIn(String message) {
            super(message);
        }
    }

    /** Opens it, as the scheme of the address says: {@code tcp}, or {@code ssh} ({@link SecureShell}). */
    static Wire open(Access access, Deadline deadline) throws IOException {
        return "ssh".equals(access.address().getScheme())
                ? SecureShell.open(access, deadline.orIn(SIGN_IN))
                : overTcp(access, deadline.orIn(CONNECT));
    }

    private static Wire overTcp(Access access, Deadline deadline) throws IOException {
        Socket socket = new Socket();
        socket.connect(
                new InetSocketAddress(
                        Route.of(access.address().getHost(), access.inside())[0],
                        access.address().getPort()),
                deadline.millis());
        InputStream heard = socket.getInputStream();
        OutputStream said = socket.getOutputStream();
        return new Wire() {
            @Override
            public InputStream heard() {
                return heard;
            }

            @Override
            public OutputStream said() {
                return said;
            }

            @Override
            public String lineEnd() {
                return "\r\n";
            }

            @Override
            public void close() throws IOException {
                socket.close();
            }
        };
    }
}
