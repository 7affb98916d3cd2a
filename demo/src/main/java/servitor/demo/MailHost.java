package servitor.demo;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.util.FileSystemUtils;

/**
 * A mail host as companies run it, of Debian's packages: mailboxes by Dovecot, and mails over SMTP by Postfix, which files copies of
 * what desks send, and vouches for everybody who has a mailbox. Both listen on the loopback only and keep everything in a folder of
 * their own. Needs to be root, as they do.
 */
public final class MailHost implements AutoCloseable {
    /** With which every mailbox is signed in to. */
    public static final String PASSWORD = "tide";

    private static final String DOMAIN = "skerryline.example";
    private static final int TRIES = 400;

    private final Path folder;
    private final int imap;
    private final int smtp;
    private final List<Process> processes = new ArrayList<>();

    /** Starts it with mailboxes of these names. */
    public MailHost(List<String> names) throws IOException {
        folder = Files.createTempDirectory("servitor-mail-host-");
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
        imap = freePort();
        smtp = freePort();
        write("dovecot.conf", DOVECOT);
        write("postfix/main.cf", MAIN);
        write("postfix/master.cf", MASTER);
        write("postfix/boxes", lines(names, "%1$s@DOMAIN %1$s/\n%1$s.sent@DOMAIN %1$s/.Sent/\n"));
        write("postfix/copies", lines(names, "%1$s@DOMAIN %1$s.sent@DOMAIN\n"));
        write(
                "postfix/vouched",
                lines(names, "%1$s@DOMAIN PREPEND Authentication-Results: mx.DOMAIN; dmarc=pass header.from=DOMAIN\n"));
        owned("mail", "mail");
        owned("data", "postfix");
        Files.createDirectories(folder.resolve("queue"));
        processes.add(
                started("dovecot", "-F", "-c", folder.resolve("dovecot.conf").toString()));
        processes.add(started("postfix", "-c", folder.resolve("postfix").toString(), "start-fg"));
        awaitPort(imap);
        awaitPort(smtp);
    }

    /** Whether the programs are installed, and may be started. */
    public static boolean isThere() {
        return "root".equals(System.getProperty("user.name"))
                && Stream.of("dovecot", "postfix").allMatch(name -> new File("/usr/sbin/" + name).canExecute());
    }

    public URI imap() {
        return URI.create("imap://127.0.0.1:" + imap);
    }

    public URI smtp() {
        return URI.create("smtp://127.0.0.1:" + smtp);
    }

    /** Puts a mail into a mailbox, as a server does that delivers it. */
    void deliver(String name, String id, String mail) {
        try {
            Path box = folder.resolve("mail").resolve(name);
            for (String part : List.of("new", "cur", "tmp")) {
                owned("mail/" + name, "mail");
                owned("mail/" + name + "/" + part, "mail");
            }
            Path written = Files.writeString(box.resolve("tmp").resolve(id), mail);
            setOwner(written, "mail");
            Files.move(written, box.resolve("new").resolve(id), StandardCopyOption.ATOMIC_MOVE);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static String lines(List<String> names, String line) {
        return names.stream().map(line::formatted).collect(Collectors.joining()).replace("DOMAIN", DOMAIN);
    }

    private void write(String name, String text) throws IOException {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(
                file,
                text.replace("FOLDER", folder.toString())
                        .replace("IMAP", String.valueOf(imap))
                        .replace("SMTP", String.valueOf(smtp))
                        .replace("DOMAIN", DOMAIN)
                        .replace("PASSWORD", PASSWORD));
    }

    private void owned(String name, String owner) throws IOException {
        setOwner(Files.createDirectories(folder.resolve(name)), owner);
    }

    private static void setOwner(Path file, String owner) throws IOException {
        Files.setOwner(
                file, file.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName(owner));
    }

    private Process started(String... command) throws IOException {
        File log = folder.resolve(command[0] + ".out").toFile();
        return new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(log)
                .start();
    }

    private static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    private static void awaitPort(int port) throws IOException {
        for (int i = 0; i < TRIES; i++) {
            try (Socket socket = new Socket()) {
                socket.connect(new InetSocketAddress("127.0.0.1", port), 1_000);
                return;
            } catch (IOException e) {
                LockSupport.parkNanos(TimeUnit.MILLISECONDS.toNanos(50));
            }
        }
        throw new IOException("the mail host doesn't listen on " + port);
    }

    @Override
    public void close() {
        for (Process process : processes) {
            process.destroy();
            try {
                process.waitFor(20, TimeUnit.SECONDS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
        try {
            FileSystemUtils.deleteRecursively(folder);
        } catch (IOException e) {
            // what is left lies in the folder for temporary files
        }
    }

    private static final String DOVECOT = """
            base_dir = FOLDER/run
            state_dir = FOLDER/run
            log_path = FOLDER/dovecot.log
            protocols = imap
            listen = 127.0.0.1
            ssl = no
            disable_plaintext_auth = no
            mail_location = maildir:FOLDER/mail/%n
            first_valid_uid = 1
            first_valid_gid = 1
            mail_max_userip_connections = 50
            passdb {
              driver = static
              args = password=PASSWORD
            }
            userdb {
              driver = static
              args = uid=mail gid=mail home=FOLDER/mail/%n
            }
            service imap-login {
              inet_listener imap {
                port = IMAP
              }
              inet_listener imaps {
                port = 0
              }
            }
            """;

    private static final String MAIN = """
            compatibility_level = 3.6
            queue_directory = FOLDER/queue
            data_directory = FOLDER/data
            mail_owner = postfix
            inet_interfaces = 127.0.0.1
            inet_protocols = ipv4
            mynetworks = 127.0.0.0/8
            myhostname = mx.DOMAIN
            mydestination =
            virtual_mailbox_domains = DOMAIN
            virtual_mailbox_base = FOLDER/mail
            virtual_mailbox_maps = texthash:FOLDER/postfix/boxes
            virtual_minimum_uid = 1
            virtual_uid_maps = static:8
            virtual_gid_maps = static:8
            virtual_alias_maps =
            alias_maps =
            sender_bcc_maps = texthash:FOLDER/postfix/copies
            smtpd_relay_restrictions = permit_mynetworks, reject
            smtpd_sender_restrictions = check_sender_access texthash:FOLDER/postfix/vouched
            default_transport = error:nothing leaves this machine
            maillog_file = FOLDER/postfix.log
            maillog_file_prefixes = FOLDER
            """;

    private static final String MASTER = """
            127.0.0.1:SMTP inet n - n - - smtpd
            cleanup unix n - n - 0 cleanup
            qmgr unix n - n 300 1 qmgr
            rewrite unix - - n - - trivial-rewrite
            bounce unix - - n - 0 bounce
            defer unix - - n - 0 bounce
            trace unix - - n - 0 bounce
            proxymap unix - - n - - proxymap
            error unix - - n - - error
            retry unix - - n - - error
            virtual unix - n n - - virtual
            anvil unix - - n - 1 anvil
            tlsmgr unix - - n 1000? 1 tlsmgr
            postlog unix-dgram n - n - 1 postlogd
            """;
}
