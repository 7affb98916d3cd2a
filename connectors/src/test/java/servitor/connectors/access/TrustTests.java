package servitor.connectors.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.connectors.operation.HttpTool;
import servitor.core.engine.Reply;

class TrustTests {
    @TempDir
    Path folder;

    private static Reply reach(HttpsServer server, Trust trust) throws Exception {
        URI url = URI.create("https://localhost:" + server.getAddress().getPort() + "/");
        return new HttpTool()
                .test(
                        new Access(url, new Credentials.Bearer("b-123"), true, trust),
                        Deadline.in(Duration.ofSeconds(10)));
    }

    private static HttpsServer showing(Certified certified) throws Exception {
        HttpsServer server = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 5);
        server.setHttpsConfigurator(new HttpsConfigurator(certified.server()));
        server.createContext("/", exchange -> {
            exchange.sendResponseHeaders(204, -1);
            exchange.close();
        });
        server.start();
        return server;
    }

    @Test
    void onlyTheNamedAuthoritiesAreTrustedAndOnlyForTheHostItself() throws Exception {
        Certified own = Certified.of(folder, "own", "dns:localhost");
        Certified other = Certified.of(folder, "other", "dns:other.example");
        HttpsServer server = showing(own);
        HttpsServer impostor = showing(other);
        try {
            assertThat(reach(server, Trust.of(own.pem()))).isInstanceOf(Reply.Answered.class);
            assertThat(reach(server, Trust.MACHINE)).isInstanceOf(Reply.NotSent.class);
            assertThat(reach(server, Trust.of(other.pem()))).isInstanceOf(Reply.NotSent.class);
            assertThat(reach(impostor, Trust.of(other.pem())))
                    .as("a trusted authority, and a certificate of another host")
                    .isInstanceOf(Reply.NotSent.class);
            assertThat(reach(server, Trust.of(other.pem() + own.pem()))).isInstanceOf(Reply.Answered.class);
        } finally {
            server.stop(0);
            impostor.stop(0);
        }
    }

    @Test
    void authoritiesAreNamedAndWhatIsNoneIsSaid() throws Exception {
        assertThat(Trust.of(Certified.of(folder, "harbour", "dns:localhost").pem())
                        .names())
                .isEqualTo("CN=harbour");
        assertThat(Trust.of("").names()).isEmpty();
        assertThatThrownBy(() -> Trust.of("-----BEGIN CERTIFICATE-----\nhello\n-----END CERTIFICATE-----"))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("PEM");
        assertThatThrownBy(() -> Trust.of("hello"))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("PEM");
    }
}
