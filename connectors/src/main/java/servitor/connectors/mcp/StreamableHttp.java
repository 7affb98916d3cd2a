package servitor.connectors.mcp;

import io.modelcontextprotocol.client.McpAsyncClient;
import io.modelcontextprotocol.json.McpJsonDefaults;
import io.modelcontextprotocol.json.TypeRef;
import io.modelcontextprotocol.spec.HttpHeaders;
import io.modelcontextprotocol.spec.McpClientTransport;
import io.modelcontextprotocol.spec.McpSchema;
import io.modelcontextprotocol.spec.McpSchema.JSONRPCMessage;
import io.modelcontextprotocol.spec.ProtocolVersions;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Serial;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.apache.hc.client5.http.classic.methods.HttpDelete;
import org.apache.hc.client5.http.classic.methods.HttpPost;
import org.apache.hc.client5.http.classic.methods.HttpUriRequestBase;
import org.apache.hc.client5.http.config.RequestConfig;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.ContentType;
import org.apache.hc.core5.http.Header;
import org.apache.hc.core5.http.HttpEntity;
import org.apache.hc.core5.http.HttpHost;
import org.apache.hc.core5.http.io.entity.StringEntity;
import org.apache.hc.core5.util.Timeout;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import reactor.core.publisher.Mono;
import reactor.core.scheduler.Schedulers;
import servitor.connectors.access.BoundedStream;
import servitor.connectors.access.Trust;
import servitor.connectors.http.RoutedHttp;

/**
 * The client's half of streamable HTTP (Model Context Protocol, transports): each message is a POST, whose answer is one message as
 * JSON or several as a stream of events. It goes out by {@link RoutedHttp}, so that the address that was looked at is the one that
 * is talked to. A stream for what the server wants to say unasked isn't opened.
 */
final class StreamableHttp implements McpClientTransport {
    private static final String EVENTS = "text/event-stream";

    private static final Timeout GOODBYE = Timeout.ofSeconds(2);
    private static final Logger LOG = LoggerFactory.getLogger(StreamableHttp.class);

    private final URI url;
    private final Map<String, String> headers;
    private final CloseableHttpClient http;
    private final Set<HttpUriRequestBase> underWay = ConcurrentHashMap.newKeySet();
    private volatile Function<Mono<JSONRPCMessage>, Mono<JSONRPCMessage>> handler = message -> message;
    private volatile @Nullable String session;
    private volatile boolean closed;

    /**
     * @param headers sent with every request, to sign in
     * @param inside whether the server may be in a private network
     * @param trust whose certificates are taken
     */
    StreamableHttp(URI url, Map<String, String> headers, boolean inside, Trust trust) {
        this.url = url;
        this.headers = Map.copyOf(headers);
        this.http = RoutedHttp.client(inside, trust);
    }

    /** The server answered, and not with a message. */
    static final class Answered extends IOException {
        @Serial
        private static final long serialVersionUID = 1L;

        private final int status;

        Answered(int status) {
            super("answered " + status);
            this.status = status;
        }

        int status() {
            return status;
        }
    }

    @Override
    public List<String> protocolVersions() {
        return List.of(
                ProtocolVersions.MCP_2025_03_26, ProtocolVersions.MCP_2025_06_18, ProtocolVersions.MCP_2025_11_25);
    }

    @Override
    public Mono<Void> connect(Function<Mono<JSONRPCMessage>, Mono<JSONRPCMessage>> to) {
        handler = to;
        return Mono.empty();
    }

    @Override
    public Mono<Void> sendMessage(JSONRPCMessage message) {
        return Mono.deferContextual(context -> Mono.<Void>fromCallable(() -> {
                    send(
                            message,
                            Objects.requireNonNull(context.getOrDefault(
                                    McpAsyncClient.NEGOTIATED_PROTOCOL_VERSION, ProtocolVersions.MCP_2025_11_25)));
                    return null;
                }))
                .subscribeOn(Schedulers.boundedElastic());
    }

    private void send(JSONRPCMessage message, String version) throws IOException {
        HttpPost request = new HttpPost(url);
        headers.forEach(request::setHeader);
        request.setHeader(HttpHeaders.ACCEPT, "application/json, " + EVENTS);
        request.setHeader(HttpHeaders.PROTOCOL_VERSION, version);
        if (session != null) {
            request.setHeader(HttpHeaders.MCP_SESSION_ID, session);
        }
        request.setEntity(new StringEntity(
                McpJsonDefaults.getMapper().writeValueAsString(message), ContentType.APPLICATION_JSON));
        exchange(request);
    }

    private void exchange(HttpUriRequestBase request) throws IOException {
        underWay.add(request);
        try (ClassicHttpResponse response = http.executeOpen(HttpHost.create(url), request, null)) {
            if (closed) {
                return;
            }
            if (response.getCode() < 200 || response.getCode() > 299) {
                throw new Answered(response.getCode());
            }
            Header given = response.getFirstHeader(HttpHeaders.MCP_SESSION_ID);
            if (given != null) {
                session = given.getValue();
            }
            if (response.getEntity() != null) {
                read(response.getEntity());
            }
        } finally {
            underWay.remove(request);
        }
    }

    private void read(HttpEntity entity) throws IOException {
        InputStream body = new BoundedStream(entity.getContent());
        if (String.valueOf(entity.getContentType()).startsWith(EVENTS)) {
            events(new BufferedReader(new InputStreamReader(body, StandardCharsets.UTF_8)));
        } else {
            String text = new String(body.readAllBytes(), StandardCharsets.UTF_8);
            if (!text.isBlank()) {
                take(text);
            }
        }
    }

    /** Events as HTML's server-sent events lay them out; only their data counts here. */
    private void events(BufferedReader lines) throws IOException {
        StringBuilder data = new StringBuilder();
        for (String line = lines.readLine(); line != null; line = lines.readLine()) {
            if (line.startsWith("data:")) {
                data.append(data.isEmpty() ? "" : "\n").append(line.substring(line.startsWith("data: ") ? 6 : 5));
            } else if (line.isEmpty() && !data.isEmpty()) {
                take(data.toString());
                data.setLength(0);
            }
        }
    }

    private void take(String text) throws IOException {
        handler.apply(Mono.just(McpSchema.deserializeJsonRpcMessage(McpJsonDefaults.getMapper(), text)))
                .subscribe();
    }

    /** Breaks off what is under way; a session is given back, and whether that is taken in doesn't matter. */
    @Override
    public Mono<Void> closeGracefully() {
        return Mono.<Void>fromRunnable(() -> {
                    closed = true;
                    underWay.forEach(HttpUriRequestBase::cancel);
                    if (session != null) {
                        giveBack(session);
                    }
                })
                .subscribeOn(Schedulers.boundedElastic());
    }

    private void giveBack(String given) {
        HttpDelete request = new HttpDelete(url);
        headers.forEach(request::setHeader);
        request.setHeader(HttpHeaders.MCP_SESSION_ID, given);
        request.setConfig(RequestConfig.custom().setResponseTimeout(GOODBYE).build());
        try {
            http.executeOpen(HttpHost.create(url), request, null).close();
        } catch (IOException e) {
            LOG.debug("A session wasn't given back to {}", url.getAuthority(), e);
        }
    }

    @Override
    public <T> T unmarshalFrom(Object data, TypeRef<T> type) {
        return McpJsonDefaults.getMapper().convertValue(data, type);
    }
}
