package servitor.connectors.http;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ProxySelector;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import org.apache.hc.client5.http.classic.methods.HttpGet;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import servitor.connectors.access.Route;
import servitor.connectors.access.Trust;

/** What leads outside goes by the forward proxy, and what leads inside doesn't. */
class ForwardProxyTests {
    private final List<String> asked = new CopyOnWriteArrayList<>();
    private HttpServer proxy;

    @BeforeEach
    void listen() throws Exception {
        proxy = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 5);
        proxy.createContext("/", exchange -> {
            try (exchange) {
                asked.add(exchange.getRequestMethod() + " " + exchange.getRequestURI());
                exchange.sendResponseHeaders(200, -1);
            }
        });
        proxy.start();
    }

    @AfterEach
    void stop() {
        proxy.stop(0);
    }

    private CloseableHttpClient client(boolean inside) {
        return RoutedHttp.make(inside, Trust.MACHINE, ProxySelector.of(proxy.getAddress()));
    }

    private static int get(CloseableHttpClient client, String url) throws Exception {
        return client.execute(new HttpGet(url), response -> response.getCode());
    }

    @Test
    void aNameThatOnlyTheProxyKnowsIsReachedByIt() throws Exception {
        assertThat(get(client(false), "http://models.invalid/v1/models")).isEqualTo(200);
        assertThat(asked).containsExactly("GET http://models.invalid/v1/models");
    }

    @Test
    void overTlsTheProxyIsAskedForATunnelAndSeesNoWordOfIt() {
        assertThatThrownBy(() -> get(client(false), "https://models.invalid/v1/models"))
                .as("this proxy opens none")
                .isInstanceOf(Exception.class);
        assertThat(asked).allMatch(line -> line.startsWith("CONNECT") && !line.contains("/v1/models"));
    }

    @Test
    void whatLeadsInsideIsntToldTheProxy() throws Exception {
        String own = "http://127.0.0.1:" + proxy.getAddress().getPort() + "/v1";
        assertThat(get(client(true), own)).isEqualTo(200);
        assertThat(asked).containsExactly("GET /v1");
    }

    @Test
    void withoutAProxyAnAddressInsideIsStillRefused() {
        CloseableHttpClient direct = RoutedHttp.make(false, Trust.MACHINE, ProxySelector.of(null));
        assertThatThrownBy(() ->
                        get(direct, "http://127.0.0.1:" + proxy.getAddress().getPort() + "/v1"))
                .isInstanceOf(Route.LeadsInside.class);
    }
}
