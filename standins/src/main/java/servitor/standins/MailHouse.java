package servitor.standins;

import com.icegreen.greenmail.Managers;
import com.icegreen.greenmail.store.FolderException;
import com.icegreen.greenmail.store.StoredMessage;
import com.icegreen.greenmail.user.GreenMailUser;
import com.icegreen.greenmail.user.UserException;
import jakarta.mail.Flags;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.internet.MimeMessage;
import java.io.ByteArrayInputStream;
import java.net.InetAddress;
import java.net.URI;
import java.util.ArrayList;
import java.util.Date;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.subethamail.smtp.auth.EasyAuthenticationHandlerFactory;
import org.subethamail.smtp.auth.LoginFailedException;
import org.subethamail.smtp.server.SMTPServer;

/**
 * The mail server of the line and of everybody who writes to it: mailboxes that are read over IMAP, and a relay in front of them that
 * takes mails over SMTP, writes what it knows of their senders into them, and files what those send who sign in.
 */
public final class MailHouse implements AutoCloseable {
    public static final String DOMAIN = "skerryline.example";
    /** The name under which the relay writes what it knows of a sender. */
    public static final String SERVER = "mx." + DOMAIN;

    private static final long START = 20_000;

    static final String INBOX = "INBOX";
    static final String SENT = "Sent";

    private final Managers boxes = new Managers();
    private final MailboxServer server;
    private final SMTPServer relay;
    private final MailPage page;
    private final Map<String, GreenMailUser> users = new ConcurrentHashMap<>();
    private final Map<String, String> away = new ConcurrentHashMap<>();

    /** Listens on these ports of the loopback; zero takes any free one. */
    MailHouse(int imap, int smtp, int pages, ChatRoom room) {
        server = new MailboxServer(imap, boxes);
        server.startService();
        awaitMailboxes();
        relay = SMTPServer.port(smtp)
                .bindAddress(InetAddress.getLoopbackAddress())
                .hostName(SERVER)
                .authenticationHandlerFactory(new EasyAuthenticationHandlerFactory((name, password, context) -> {
                    if (!users.containsKey(name) || !boxes.getUserManager().test(name, password)) {
                        throw new LoginFailedException();
                    }
                }))
                .requireAuth(false)
                .showAuthCapabilitiesBeforeSTARTTLS(true)
                .messageHandlerFactory(context -> new Relay(this, context))
                .build();
        relay.start();
        page = new MailPage(pages, this, room);
    }

    private void awaitMailboxes() {
        try {
            if (!server.waitTillRunning(START)) {
                throw new IllegalStateException("the mail server doesn't start");
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("the mail server wasn't awaited", e);
        }
    }

    /** Opens a mailbox, unless it is there; whoever reads it signs in with its address. */
    public void open(String address, String password) {
        users.computeIfAbsent(address, name -> {
            try {
                GreenMailUser user = boxes.getUserManager().createUser(name, name, password);
                boxes.getImapHostManager().createMailbox(user, SENT);
                return user;
            } catch (UserException | com.icegreen.greenmail.imap.AuthorizationException | FolderException e) {
                throw new IllegalStateException("the mailbox of " + name + " can't be opened", e);
            }
        });
    }

    public URI imap() {
        return URI.create("imap://127.0.0.1:" + server.getPort());
    }

    public URI smtp() {
        return URI.create("smtp://127.0.0.1:" + relay.getPortAllocated());
    }

    /** Where its mailboxes can be looked at, and mails written. */
    public URI page() {
        return page.url();
    }

    /** Has a mailbox answer every mail that no machine sent, as people do who are away; an empty text ends that. */
    public void setAway(String address, String text) {
        if (text.isEmpty()) {
            away.remove(address);
        } else {
            away.put(address, text);
        }
    }

    Optional<String> awayText(String address) {
        return Optional.ofNullable(away.get(address));
    }

    /** Whether mails can be delivered there: within the line to mailboxes there are, elsewhere to everybody. */
    boolean takes(String address) {
        return !address.endsWith("@" + DOMAIN) || users.containsKey(address);
    }

    /** Puts a mail into a mailbox; one of somebody elsewhere is opened for it. */
    void deliver(String address, byte[] mail) {
        open(address, java.util.UUID.randomUUID().toString());
        append(address, INBOX, mail, new Flags());
    }

    /** Files what somebody has sent. */
    void file(String address, byte[] mail) {
        append(address, SENT, mail, new Flags(Flags.Flag.SEEN));
    }

    private void append(String address, String folder, byte[] mail, Flags flags) {
        try {
            MimeMessage message =
                    new MimeMessage(Session.getInstance(new Properties()), new ByteArrayInputStream(mail));
            boxes.getImapHostManager().getFolder(users.get(address), folder).appendMessage(message, flags, new Date());
        } catch (MessagingException e) {
            throw new IllegalStateException("a mail to " + address + " can't be delivered", e);
        }
    }

    /** The addresses there are, in order, with how many mails lie in each inbox. */
    public Map<String, Integer> addresses() {
        Map<String, Integer> all = new TreeMap<>();
        users.keySet().forEach(address -> all.put(address, mails(address, INBOX).size()));
        return all;
    }

    /** The mails of a folder, the oldest first. */
    public List<MimeMessage> mails(String address, String folder) {
        List<MimeMessage> all = new ArrayList<>();
        GreenMailUser user = users.get(address);
        if (user != null) {
            for (StoredMessage stored :
                    boxes.getImapHostManager().getFolder(user, folder).getMessages()) {
                all.add(stored.getMimeMessage());
            }
        }
        return all;
    }

    /** Whether the mail that is the {@code number}th of an inbox, from zero, has the flag of what was taken in. */
    public boolean isFlagged(String address, int number) {
        return boxes.getImapHostManager()
                .getFolder(users.get(address), INBOX)
                .getMessages()
                .get(number)
                .getFlags()
                .contains(Flags.Flag.FLAGGED);
    }

    @Override
    public void close() {
        page.close();
        relay.stop();
        server.stopService();
    }
}
