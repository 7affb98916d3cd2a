package servitor.connectors.mail;

import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.util.Arrays;
import java.util.List;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.SSLSocketFactory;
import servitor.connectors.access.Trust;

/** TLS over a connection to an address that was looked up before, with the host whose name the certificate has to have. */
final class TlsByName extends SSLSocketFactory {
    private final SSLSocketFactory sockets;
    private final String host;

    TlsByName(Trust trust, String host) {
        this.sockets = trust.context().getSocketFactory();
        this.host = host;
    }

    @Override
    public Socket createSocket(Socket connected, String address, int port, boolean closing) throws IOException {
        SSLSocket socket = (SSLSocket) sockets.createSocket(connected, host, port, closing);
        SSLParameters parameters = socket.getSSLParameters();
        parameters.setEndpointIdentificationAlgorithm("HTTPS"); // RFC 2818: the name of the host, as everywhere
        if (host.chars().anyMatch(Character::isLetter) && host.indexOf(':') < 0) {
            parameters.setServerNames(List.of(new SNIHostName(host)));
        }
        socket.setSSLParameters(parameters);
        socket.startHandshake();
        return socket;
    }

    @Override
    public String[] getDefaultCipherSuites() {
        return sockets.getDefaultCipherSuites();
    }

    @Override
    public String[] getSupportedCipherSuites() {
        return sockets.getSupportedCipherSuites();
    }

    @Override
    public Socket createSocket(String to, int port) {
        throw unasked(to);
    }

    @Override
    public Socket createSocket(String to, int port, InetAddress local, int localPort) {
        throw unasked(to);
    }

    @Override
    public Socket createSocket(InetAddress to, int port) {
        throw unasked(to);
    }

    @Override
    public Socket createSocket(InetAddress to, int port, InetAddress local, int localPort) {
        throw unasked(to);
    }

    private static UnsupportedOperationException unasked(Object... to) {
        return new UnsupportedOperationException(
                "only connections that are there are secured, not " + Arrays.toString(to));
    }
}
