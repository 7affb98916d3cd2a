package servitor.connectors.sql;

import java.io.File;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** PostgreSQL from Debian's package, on loopback, with TLS. It refuses to run as root, and runs as its own account then. */
final class Postgres implements AutoCloseable {
    static final String PASSWORD = "tide-and-time";

    private final Path folder;
    private final Path programs;
    private final int port;
    private final Process process;

    Postgres(Path parent) throws Exception {
        programs = programs();
        port = freePort();
        folder = Files.createTempDirectory(Path.of("/tmp"), "servitor-postgres-");
        Files.writeString(folder.resolve("password"), PASSWORD);
        own();
        run(List.of(
                programs.resolve("initdb").toString(),
                "-D",
                folder + "/data",
                "-U",
                "owner",
                "-A",
                "scram-sha-256",
                "--pwfile=" + folder + "/password",
                "-N",
                "--no-instructions"));
        run(List.of(
                "openssl",
                "req",
                "-new",
                "-x509",
                "-nodes",
                "-days",
                "30",
                "-subj",
                "/CN=localhost",
                "-addext",
                "subjectAltName=DNS:localhost",
                "-keyout",
                folder + "/data/server.key",
                "-out",
                folder + "/data/server.crt"));
        process = builder(List.of(
                        programs.resolve("postgres").toString(),
                        "-D",
                        folder + "/data",
                        "-p",
                        String.valueOf(port),
                        "-h",
                        "localhost",
                        "-k",
                        folder.toString(),
                        "-c",
                        "ssl=on",
                        "-c",
                        "fsync=off"))
                .redirectOutput(parent.resolve("postgres.log").toFile())
                .start();
    }

    private static Path programs() throws IOException {
        try (Stream<Path> versions = Files.list(Path.of("/usr/lib/postgresql"))) {
            return versions.sorted().reduce((one, later) -> later).orElseThrow().resolve("bin");
        }
    }

    private static boolean root() {
        return System.getProperty("user.name").equals("root");
    }

    private void own() throws Exception {
        if (root()) {
            new ProcessBuilder("chown", "-R", "postgres", folder.toString())
                    .start()
                    .waitFor();
        }
    }

    private static ProcessBuilder builder(List<String> line) {
        List<String> whole = new ArrayList<>(root() ? List.of("runuser", "-u", "postgres", "--") : List.of());
        whole.addAll(line);
        return new ProcessBuilder(whole).directory(new File("/tmp")).redirectErrorStream(true);
    }

    private static void run(List<String> line) throws Exception {
        Process process = builder(line).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        if (process.waitFor() != 0) {
            throw new IOException(said);
        }
    }

    int port() {
        return port;
    }

    boolean isAlive() {
        return process.isAlive();
    }

    /** Its certificate, which is its own authority. */
    String certificate() throws IOException {
        return Files.readString(folder.resolve("data/server.crt"));
    }

    private static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    @Override
    public void close() throws Exception {
        process.destroy();
        process.waitFor();
        new ProcessBuilder("rm", "-rf", folder.toString()).start().waitFor();
    }
}
