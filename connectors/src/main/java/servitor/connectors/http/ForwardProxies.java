package servitor.connectors.http;

import java.net.ProxySelector;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.hc.client5.http.impl.routing.SystemDefaultRoutePlanner;
import org.apache.hc.core5.http.HttpException;
import org.apache.hc.core5.http.HttpHost;
import org.apache.hc.core5.http.protocol.HttpContext;
import org.jspecify.annotations.Nullable;

/** Goes by the proxies that a selector has, and knows which they are: they are inside, and may be. */
final class ForwardProxies extends SystemDefaultRoutePlanner {
    private final Set<String> known = ConcurrentHashMap.newKeySet();

    ForwardProxies(ProxySelector proxies) {
        super(proxies);
    }

    boolean isProxy(String host) {
        return known.contains(host);
    }

    @Override
    protected @Nullable HttpHost determineProxy(HttpHost target, HttpContext context) throws HttpException {
        HttpHost proxy = super.determineProxy(target, context);
        if (proxy != null) {
            known.add(proxy.getHostName());
        }
        return proxy;
    }
}
