package servitor.connectors.http;

import java.net.InetAddress;
import java.net.ProxySelector;
import java.net.UnknownHostException;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.hc.client5.http.SystemDefaultDnsResolver;
import org.apache.hc.client5.http.config.ConnectionConfig;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.client5.http.impl.routing.DefaultRoutePlanner;
import org.apache.hc.client5.http.ssl.DefaultClientTlsStrategy;
import org.apache.hc.core5.util.TimeValue;
import org.apache.hc.core5.util.Timeout;
import servitor.connectors.access.Route;
import servitor.connectors.access.Trust;

/**
 * The clients by which everything over HTTP goes out. Names are looked up by {@link Route}, which refuses addresses inside; nothing
 * is repeated, redirected or remembered between requests. What leads outside goes by the machine's forward proxy, if Java is told of one
 * (the system properties {@code https.proxyHost} and so on).
 */
public final class RoutedHttp {
    private static final int CONNECTIONS = 200;
    private static final Timeout CONNECT = Timeout.ofSeconds(3);
    private static final Map<Way, CloseableHttpClient> CLIENTS = new ConcurrentHashMap<>();

    private RoutedHttp() {}

    private record Way(boolean inside, Trust trust) {}

    /** The client for addresses that may, or may not, lead into a private network, and for certificates of some. Never closed. */
    public static CloseableHttpClient client(boolean inside, Trust trust) {
        return CLIENTS.computeIfAbsent(new Way(inside, trust), way -> make(way.inside(), way.trust()));
    }

    private static CloseableHttpClient make(boolean inside, Trust trust) {
        return make(inside, trust, ProxySelector.getDefault());
    }

    /** What isn't inside goes out by the proxy that {@code proxies} has for it, if there is one. */
    static CloseableHttpClient make(boolean inside, Trust trust, ProxySelector proxies) {
        ForwardProxies forward = new ForwardProxies(proxies);
        return HttpClients.custom()
                .setRoutePlanner(inside ? new DefaultRoutePlanner(null) : forward)
                .setConnectionManager(PoolingHttpClientConnectionManagerBuilder.create()
                        .setTlsSocketStrategy(new DefaultClientTlsStrategy(trust.context()))
                        .setDnsResolver(new SystemDefaultDnsResolver() {
                            @Override
                            public InetAddress[] resolve(String host) throws UnknownHostException {
                                return Route.of(host, inside || forward.isProxy(host));
                            }
                        })
                        .setDefaultConnectionConfig(ConnectionConfig.custom()
                                .setConnectTimeout(CONNECT)
                                .setValidateAfterInactivity(TimeValue.ZERO_MILLISECONDS)
                                .setTimeToLive(TimeValue.ofMinutes(1))
                                .build())
                        .setMaxConnTotal(CONNECTIONS)
                        .setMaxConnPerRoute(CONNECTIONS)
                        .build())
                .disableAutomaticRetries()
                .disableRedirectHandling()
                .disableCookieManagement()
                .disableAuthCaching()
                .disableContentCompression()
                .build();
    }
}
