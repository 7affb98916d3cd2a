package servitor.connectors.mail;

import jakarta.mail.MessagingException;
import jakarta.mail.SendFailedException;
import jakarta.mail.Session;
import jakarta.mail.URLName;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.util.Arrays;
import java.util.Optional;
import java.util.Properties;
import org.eclipse.angus.mail.smtp.SMTPAddressFailedException;
import org.eclipse.angus.mail.smtp.SMTPSendFailedException;
import org.eclipse.angus.mail.smtp.SMTPSenderFailedException;
import org.eclipse.angus.mail.smtp.SMTPTransport;
import org.jspecify.annotations.Nullable;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Route;
import servitor.core.engine.Reply;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.mail.Letter;
import servitor.core.mail.Mail;

/**
 * Hands mails in to be sent (SMTP, RFC 5321; submission, RFC 6409). What the server refused, and whatever broke before it was given the
 * text, provably wasn't sent; what it was given without a word of its own after that may have been.
 */
public final class MailSubmission {
    private MailSubmission() {}

    /** Hands {@code letter} in. The answer is its Message-ID and whom it goes to. */
    public static Reply send(Access access, Letter letter, Deadline deadline) {
        return with(access, deadline, letter.from().domain(), (transport, session) -> {
            MimeMessage message = LetterMime.of(session, letter);
            transport.sendMessage(message, message.getAllRecipients());
            return new Reply.Answered(
                    250,
                    Json.object()
                            .put("message", letter.messageId())
                            .put(
                                    "to",
                                    String.join(
                                            ", ",
                                            letter.to().stream()
                                                    .map(Mail.Address::address)
                                                    .toList())));
        });
    }

    /** Signs in, and hands nothing in. */
    public static Reply test(Access access, Deadline deadline) {
        return with(access, deadline, "localhost", (transport, session) -> {
            transport.simpleCommand("NOOP");
            return new Reply.Answered(250, Json.object());
        });
    }

    private interface Talk {
        Reply of(Courier transport, Session session) throws MessagingException;
    }

    /** A transport that knows whether the text of a mail has been begun. */
    private static final class Courier extends SMTPTransport {
        private boolean begun;

        Courier(Session session, URLName name) {
            super(session, name);
        }

        @Override
        protected OutputStream data() throws MessagingException {
            begun = true;
            return super.data();
        }
    }

    private static Reply with(Access access, Deadline deadline, String self, Talk talk) {
        SubmissionAddress at;
        try {
            at = SubmissionAddress.of(access.address());
        } catch (IllegalArgumentException e) {
            return new Reply.NotSent(String.valueOf(e.getMessage()));
        }
        Session session = Session.getInstance(properties(access, at, self, deadline));
        Courier courier = new Courier(session, name(access, at));
        try (Socket socket = connected(access, at, deadline);
                Deadline.Cut cut = deadline.cut(() -> close(socket))) {
            try {
                courier.connect(socket);
                return talk.of(courier, session);
            } catch (MessagingException e) {
                return trouble(at.host(), e, courier.begun, cut.isDone());
            } finally {
                close(courier);
            }
        } catch (UnknownHostException e) {
            return new Reply.NotSent(
                    e instanceof Route.LeadsInside ? String.valueOf(e.getMessage()) : at.host() + " can't be found");
        } catch (javax.net.ssl.SSLException e) {
            return new Reply.NotSent(at.host() + " doesn't show a certificate that holds for it");
        } catch (IOException e) {
            return new Reply.NotSent(at.host() + " can't be reached: " + firstLine(e));
        }
    }

    private static URLName name(Access access, SubmissionAddress at) {
        return access.credentials() instanceof Credentials.Password password
                ? new URLName("smtp", at.host(), at.port(), null, password.user(), password.secret())
                : new URLName("smtp", at.host(), at.port(), null, null, null);
    }

    private static Socket connected(Access access, SubmissionAddress at, Deadline deadline) throws IOException {
        InetAddress address = Route.of(at.host(), access.inside())[0];
        Socket socket = new Socket();
        try {
            socket.connect(new InetSocketAddress(address, at.port()), deadline.millis());
            socket.setSoTimeout(deadline.millis());
            return at.secure() == SubmissionAddress.Secure.FROM_THE_START
                    ? new TlsByName(access.trust(), at.host()).createSocket(socket, at.host(), at.port(), true)
                    : socket;
        } catch (IOException e) {
            close(socket);
            throw e;
        }
    }

    private static Properties properties(Access access, SubmissionAddress at, String self, Deadline deadline) {
        Properties properties = new Properties();
        properties.put("mail.smtp.auth", String.valueOf(access.credentials() instanceof Credentials.Password));
        properties.put("mail.smtp.timeout", String.valueOf(deadline.millis()));
        properties.put("mail.smtp.localhost", self);
        properties.put("mail.smtp.sendpartial", "false");
        properties.put("mail.smtp.quitwait", "false"); // what was said before it is what counts
        boolean upgraded = at.secure() == SubmissionAddress.Secure.UPGRADED;
        properties.put("mail.smtp.starttls.enable", String.valueOf(upgraded));
        properties.put("mail.smtp.starttls.required", String.valueOf(upgraded));
        properties.put("mail.smtp.ssl.socketFactory", new TlsByName(access.trust(), at.host()));
        properties.put("mail.smtp.ssl.checkserveridentity", "false"); // the name is checked by the sockets
        return properties;
    }

    private static Reply trouble(String host, MessagingException e, boolean begun, boolean cut) {
        Optional<Integer> code = code(e);
        String said = host + " says: " + firstLine(e);
        if (code.isPresent() && code.get() / 100 == 4) {
            return new Reply.NotSent(said); // RFC 5321, section 4.2.1: not taken, and worth another try
        } else if (code.isPresent()) {
            return new Reply.Refused(Problem.REFUSED, said);
        } else if (!begun) {
            return new Reply.NotSent(host + " can't be asked: " + firstLine(e));
        }
        return new Reply.Unknown(
                host + " was given the mail and didn't say whether it took it",
                cut || e.getCause() instanceof SocketTimeoutException);
    }

    /** What the server answered to what it didn't take. */
    private static Optional<Integer> code(MessagingException e) {
        for (Exception one = e; one instanceof MessagingException each; one = each.getNextException()) {
            int code = one instanceof SMTPSendFailedException sent
                    ? sent.getReturnCode()
                    : one instanceof SMTPAddressFailedException address
                            ? address.getReturnCode()
                            : one instanceof SMTPSenderFailedException sender ? sender.getReturnCode() : 0;
            if (code >= 400) {
                return Optional.of(code);
            }
        }
        return e instanceof SendFailedException failed && failed.getInvalidAddresses() != null
                ? Optional.of(550)
                : Optional.empty();
    }

    private static String firstLine(Exception e) {
        Exception last = e;
        while (last instanceof MessagingException one && one.getNextException() != null) {
            last = one.getNextException();
        }
        return Arrays.stream(String.valueOf(last.getMessage()).split("\\R", 2))
                .findFirst()
                .orElse("");
    }

    /** What came of it is known by then. */
    private static void close(Courier courier) {
        try {
            courier.close();
        } catch (MessagingException e) {
            // it goes with the socket
        }
    }

    private static void close(@Nullable Socket socket) {
        try {
            if (socket != null) {
                socket.close();
            }
        } catch (IOException e) {
            // it goes with the connection
        }
    }
}
