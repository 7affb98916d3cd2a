package servitor.standins;

import com.icegreen.greenmail.Managers;
import com.icegreen.greenmail.imap.ImapHandler;
import com.icegreen.greenmail.server.AbstractServer;
import com.icegreen.greenmail.server.ProtocolHandler;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.NoSuchProviderException;
import jakarta.mail.Session;
import jakarta.mail.Store;
import java.net.Socket;
import java.net.SocketException;
import java.util.Properties;

/** Mailboxes over IMAP whose answers leave at once: they are written in small parts, which otherwise wait for one another. */
final class MailboxServer extends AbstractServer {
    MailboxServer(int port, Managers boxes) {
        super(new ServerSetup(port, "127.0.0.1", ServerSetup.PROTOCOL_IMAP), boxes);
    }

    @Override
    protected void handleClientSocket(Socket client) throws SocketException {
        client.setTcpNoDelay(true);
        super.handleClientSocket(client);
    }

    @Override
    protected ProtocolHandler createProtocolHandler(Socket client) {
        return new ImapHandler(managers.getUserManager(), managers.getImapHostManager(), client);
    }

    @Override
    public Store createStore() throws NoSuchProviderException {
        return Session.getInstance(new Properties()).getStore(getProtocol());
    }
}
