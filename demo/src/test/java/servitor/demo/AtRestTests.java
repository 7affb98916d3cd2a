package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.NetworkInterface;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is kept is its owner's alone, and nothing of the demo listens to others. */
class AtRestTests {
    private final Household household = Household.shared();

    private static String rights(Path path) {
        try {
            return PosixFilePermissions.toString(Files.getPosixFilePermissions(path));
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    @Test
    void theDataFolderIsItsOwnersAlone() throws IOException {
        assertThat(rights(household.data())).isEqualTo("rwx------");
        try (Stream<Path> files = Files.walk(household.data())) {
            List<Path> all = files.filter(path -> !path.endsWith("service.log")).toList(); // the test's own
            assertThat(all).anyMatch(path -> path.endsWith("ledger.mv.db")).anyMatch(path -> path.endsWith("keys"));
            assertThat(all)
                    .allSatisfy(path -> assertThat(rights(path))
                            .as("%s", path)
                            .isEqualTo(Files.isDirectory(path) ? "rwx------" : "rw-------"));
        }
    }

    @Test
    void aBackupIsItsOwnersAlone(@TempDir Path folder) {
        Path backup = folder.resolve("backup.zip");
        assertThat(household.run("--as", "admin", "backup", backup.toString()).code())
                .isZero();
        assertThat(rights(backup)).isEqualTo("rw-------");
    }

    @Test
    void thePayDatabaseListensToThisMachineOnly() throws Exception {
        List<InetAddress> others = NetworkInterface.networkInterfaces()
                .flatMap(NetworkInterface::inetAddresses)
                .filter(address -> !address.isLoopbackAddress() && !address.isLinkLocalAddress())
                .toList();
        Assumptions.assumeFalse(others.isEmpty(), "this machine has no other address");
        String url = household.as("admin").get("/api/connections").toString();
        int port = Integer.parseInt(url.replaceAll("(?s).*jdbc:h2:tcp://127\\.0\\.0\\.1:(\\d+).*", "$1"));
        try (Socket own = new Socket("127.0.0.1", port)) {
            assertThat(own.isConnected()).isTrue();
        }
        for (InetAddress other : others) {
            try (Socket socket = new Socket()) {
                assertThatThrownBy(() -> socket.connect(new InetSocketAddress(other, port), 2_000))
                        .isInstanceOf(IOException.class);
            }
        }
    }
}
