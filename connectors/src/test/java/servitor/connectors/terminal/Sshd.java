package servitor.connectors.terminal;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** OpenSSH's server as a plain process on loopback; whoever has its one key talks to a small line-mode program. */
final class Sshd implements AutoCloseable {
    private final Path folder;
    private final Process process;
    private final int port;
    private final String hostKey;

    Sshd(Path folder) throws Exception {
        this.folder = folder;
        port = freePort();
        hostKey = makeKey("host");
        makeKey("user");
        Path program = folder.resolve("register.sh");
        Files.writeString(program, """
                printf 'CREW REGISTER\\nREADY> '
                while read -r line; do
                  case "$line" in
                    "SHOW E-217") printf 'PERSON E-217 CERTIFICATE 2028-05-31\\nREADY> ' ;;
                    BYE) exit 0 ;;
                    *) printf 'NO SUCH PERSON\\nREADY> ' ;;
                  esac
                done
                """);
        Path config = folder.resolve("sshd_config");
        Files.writeString(config, """
                Port %d
                ListenAddress 127.0.0.1
                HostKey %s
                AuthorizedKeysFile %s
                PidFile none
                StrictModes no
                UsePAM no
                PermitRootLogin yes
                PasswordAuthentication yes
                ForceCommand sh %s
                """.formatted(port, folder.resolve("host"), folder.resolve("user.pub"), program));
        if (user().equals("root")) {
            Files.createDirectories(Path.of("/run/sshd")); // where it gives up its privileges
        }
        process = new ProcessBuilder("/usr/sbin/sshd", "-D", "-e", "-f", config.toString())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("sshd.log").toFile())
                .start();
        awaitListening();
    }

    private String makeKey(String name) throws IOException, InterruptedException {
        Path file = folder.resolve(name);
        run(List.of("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", file.toString()));
        Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
        return run(List.of("ssh-keygen", "-lf", file + ".pub")).split(" ")[1];
    }

    private static String run(List<String> command) throws IOException, InterruptedException {
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes());
        if (process.waitFor() != 0) {
            throw new IllegalStateException(command + ": " + said);
        }
        return said;
    }

    private void awaitListening() throws Exception {
        for (int tries = 0; ; tries++) {
            try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
                return;
            } catch (IOException e) {
                if (tries == 200 || !process.isAlive()) {
                    throw new IllegalStateException("sshd doesn't listen: " + log(), e);
                }
                TimeUnit.MILLISECONDS.sleep(50);
            }
        }
    }

    static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    String user() {
        return System.getProperty("user.name");
    }

    String privateKey() throws IOException {
        return Files.readString(folder.resolve("user"));
    }

    /** The fingerprint of its key. */
    String hostKey() {
        return hostKey;
    }

    URI url(String key) {
        return URI.create("ssh://127.0.0.1:" + port + "?host-key=" + key);
    }

    private String log() throws IOException {
        return Files.readString(folder.resolve("sshd.log"));
    }

    long timesLetIn() throws IOException {
        return log().lines().filter(line -> line.startsWith("Accepted ")).count();
    }

    @Override
    public void close() throws InterruptedException {
        process.destroy();
        process.waitFor(10, TimeUnit.SECONDS);
    }
}
