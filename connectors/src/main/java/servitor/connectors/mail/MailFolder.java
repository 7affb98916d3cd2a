package servitor.connectors.mail;

import jakarta.mail.AuthenticationFailedException;
import jakarta.mail.FetchProfile;
import jakarta.mail.Flags;
import jakarta.mail.Folder;
import jakarta.mail.FolderNotFoundException;
import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.UIDFolder;
import jakarta.mail.search.MessageIDTerm;
import java.io.IOException;
import java.io.InputStream;
import java.io.Serial;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import org.eclipse.angus.mail.imap.IMAPFolder;
import org.eclipse.angus.mail.imap.IMAPMessage;
import org.eclipse.angus.mail.imap.IMAPStore;
import org.jspecify.annotations.Nullable;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Route;
import servitor.core.engine.Reply;
import servitor.core.json.Json;

/**
 * A folder of a mail server, open (IMAP, RFC 9051). Mails are known by UIDs, which hold as long as the folder's UIDVALIDITY does.
 * Nothing is ever deleted. Used by one thread, but for {@link #abandon}.
 */
public final class MailFolder implements AutoCloseable {
    private static final int CONNECT = 5_000;
    private static final int ANSWER = 30_000;
    /** How long a server may say nothing while it is listened to; what stands between forgets silent connections after more. */
    private static final int SILENCE = 540_000;

    private final IMAPStore store;
    private final IMAPFolder folder;

    private MailFolder(IMAPStore store, IMAPFolder folder) {
        this.store = store;
        this.folder = folder;
    }

    /** A mail server can't be asked, or says no; the message says why. */
    public static final class Trouble extends Exception {
        @Serial
        private static final long serialVersionUID = 1L;

        Trouble(String message, @Nullable Exception cause) {
            super(message, cause);
        }
    }

    /** Opens {@code name}, with the credentials of the connection; throws {@link Trouble} when that can't be. */
    public static MailFolder open(Access access, String name) throws Trouble {
        return open(access, name, ANSWER);
    }

    /** Opens {@code name} to listen to; throws {@link Trouble} when that can't be, or when its server doesn't tell what comes. */
    public static MailFolder listening(Access access, String name) throws Trouble {
        MailFolder folder = open(access, name, SILENCE);
        if (!folder.asked(() -> folder.store.hasCapability("IDLE"))) {
            folder.close();
            throw new Trouble("the mail server doesn't tell what comes", null);
        }
        return folder;
    }

    private static MailFolder open(Access access, String name, int patience) throws Trouble {
        MailAddress at = MailAddress.of(access.address());
        if (!(access.credentials() instanceof Credentials.Password password)) {
            throw new Trouble("a mail server is signed in to by a name and a password", null);
        }
        IMAPStore store = null;
        try {
            InetAddress address = Route.of(at.host(), access.inside())[0];
            store = (IMAPStore)
                    Session.getInstance(properties(access, at, patience)).getStore(at.tls() ? "imaps" : "imap");
            store.connect(address.getHostAddress(), at.port(), password.user(), password.secret());
            IMAPFolder folder = (IMAPFolder) store.getFolder(name);
            folder.open(Folder.READ_WRITE);
            return new MailFolder(store, folder);
        } catch (UnknownHostException e) {
            throw new Trouble(
                    e instanceof Route.LeadsInside ? String.valueOf(e.getMessage()) : at.host() + " can't be found", e);
        } catch (MessagingException e) {
            close(store);
            throw trouble(at.host(), name, e);
        }
    }

    /** Signs in and looks at the folder that everybody has. */
    public static Reply test(Access access) {
        try (MailFolder inbox = open(access, "INBOX")) {
            return new Reply.Answered(200, Json.object().put("mails", inbox.count()));
        } catch (Trouble e) {
            return new Reply.NotSent(String.valueOf(e.getMessage()));
        }
    }

    private int count() throws Trouble {
        return asked(folder::getMessageCount);
    }

    private static Properties properties(Access access, MailAddress at, int patience) {
        String prefix = at.tls() ? "mail.imaps." : "mail.imap.";
        Properties properties = new Properties();
        properties.put(prefix + "connectiontimeout", String.valueOf(CONNECT));
        properties.put(prefix + "timeout", String.valueOf(patience));
        properties.put(prefix + "writetimeout", String.valueOf(ANSWER));
        properties.put(prefix + "connectionpoolsize", "1");
        properties.put(prefix + "peek", "true");
        properties.put(prefix + "partialfetch", "true");
        if (at.tls()) {
            properties.put(prefix + "ssl.socketFactory", new TlsByName(access.trust(), at.host()));
            properties.put(
                    prefix + "ssl.checkserveridentity", "false"); // of the address; the name is checked by the sockets
        }
        return properties;
    }

    private static Trouble trouble(String host, String name, MessagingException e) {
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof AuthenticationFailedException) {
                return new Trouble(host + " doesn't accept the connection's credentials", e);
            } else if (cause instanceof FolderNotFoundException) {
                return new Trouble(host + " has no folder ‘" + name + "’", e);
            } else if (cause instanceof javax.net.ssl.SSLException) {
                return new Trouble(host + " doesn't show a certificate that holds for it", e);
            }
        }
        return new Trouble(
                host + " can't be asked: "
                        + String.valueOf(e.getMessage()).lines().findFirst().orElse(""),
                e);
    }

    /** What UIDs hold for. */
    public long validity() throws Trouble {
        return asked(folder::getUIDValidity);
    }

    /** UIDs of mails behind {@code uid}, in order. */
    public List<Long> after(long uid, int most) throws Trouble {
        return asked(() -> {
            folder.doCommand(protocol -> {
                protocol.noop(); // the server tells what has come since (RFC 9051, section 6.1.2)
                return true;
            });
            Message[] found = folder.getMessagesByUID(uid + 1, UIDFolder.LASTUID);
            FetchProfile profile = new FetchProfile();
            profile.add(UIDFolder.FetchProfileItem.UID);
            folder.fetch(found, profile);
            // a range that ends with the last one gives that even when it lies before the beginning (RFC 9051, section
            // 6.4.9)
            long[] uids = new long[found.length];
            for (int i = 0; i < found.length; i++) {
                uids[i] = folder.getUID(found[i]);
            }
            return Arrays.stream(uids)
                    .filter(one -> one > uid)
                    .sorted()
                    .limit(most)
                    .boxed()
                    .toList();
        });
    }

    /**
     * A mail's bytes, at most one more than {@link MailParser#MOST_BYTES}, so that larger ones are known as such; empty when it is
     * gone meanwhile.
     */
    public Optional<byte[]> bytes(long uid) throws Trouble {
        return asked(() -> {
            Message message = folder.getMessageByUID(uid);
            if (!(message instanceof IMAPMessage mail)) {
                return Optional.empty();
            }
            try (InputStream in = mail.getMimeStream()) {
                byte[] bytes = in.readNBytes(MailParser.MOST_BYTES + 1);
                mail.invalidateHeaders();
                return Optional.of(bytes);
            } catch (IOException e) {
                throw new MessagingException("a mail broke off", e);
            }
        });
    }

    /** Marks a mail that was taken: by the flag {@code \Flagged}, or by moving it to a folder that is there. */
    public void taken(long uid, String to) throws Trouble {
        asked(() -> {
            if (!to.isEmpty() && !store.getFolder(to).exists()) {
                throw new MessagingException(
                        "there is no folder ‘" + to + "’"); // servers differ in how they take to it
            }
            Message message = folder.getMessageByUID(uid);
            if (message != null && to.isEmpty()) {
                folder.setFlags(new Message[] {message}, new Flags(Flags.Flag.FLAGGED), true);
            } else if (message != null) {
                folder.moveUIDMessages(new Message[] {message}, store.getFolder(to));
            }
            return true;
        });
    }

    /** Whether a mail with this Message-ID lies in the folder. */
    public boolean holds(String messageId) throws Trouble {
        return asked(() -> folder.search(new MessageIDTerm("<" + messageId + ">")).length > 0);
    }

    /**
     * Waits until the server tells of a change (IDLE, RFC 9051, section 6.3.13). Throws {@link Trouble} when the connection ends,
     * which it does after some minutes of silence, too.
     */
    public void awaitChange() throws Trouble {
        asked(() -> {
            folder.idle(true);
            return true;
        });
    }

    /** Has nobody wait any longer; may be called by any thread, and waits for nothing itself. */
    public void abandon() {
        Thread closing = new Thread(this::close, "mail-closing");
        closing.setDaemon(true);
        closing.start();
    }

    private interface Asked<T> {
        T of() throws MessagingException;
    }

    private <T> T asked(Asked<T> asked) throws Trouble {
        try {
            return asked.of();
        } catch (MessagingException | IllegalStateException e) {
            throw new Trouble("the mail server says: " + e.getMessage(), e);
        }
    }

    @Override
    public void close() {
        close(store);
    }

    private static void close(@Nullable IMAPStore store) {
        try {
            if (store != null) {
                store.close();
            }
        } catch (MessagingException e) {
            // it goes with the connection
        }
    }
}
