package servitor.connectors.sql;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketAddress;
import javax.net.SocketFactory;
import servitor.connectors.access.Route;

/** Sockets of PostgreSQL's driver, which go where {@link Route} lets them and nowhere else. The driver makes it. */
public final class RoutedSockets extends SocketFactory {
    private final boolean inside;

    /** {@code inside} is whether they may lead into a private network, as a text. */
    public RoutedSockets(String inside) {
        this.inside = Boolean.parseBoolean(inside);
    }

    @Override
    public Socket createSocket() {
        return new Socket() {
            @Override
            public void connect(SocketAddress to, int timeout) throws IOException {
                InetSocketAddress wanted = (InetSocketAddress) to;
                InetAddress address = Route.of(wanted.getHostString(), inside)[0];
                super.connect(new InetSocketAddress(address, wanted.getPort()), timeout);
            }
        };
    }

    @Override
    public Socket createSocket(String host, int port) throws IOException {
        Socket socket = createSocket();
        socket.connect(InetSocketAddress.createUnresolved(host, port));
        return socket;
    }

    @Override
    public Socket createSocket(String host, int port, InetAddress local, int localPort) throws IOException {
        return createSocket(host, port);
    }

    @Override
    public Socket createSocket(InetAddress host, int port) throws IOException {
        return createSocket(host.getHostAddress(), port);
    }

    @Override
    public Socket createSocket(InetAddress host, int port, InetAddress local, int localPort) throws IOException {
        return createSocket(host, port);
    }
}
