package servitor.connectors.signin;

import com.nimbusds.oauth2.sdk.ParseException;
import com.nimbusds.oauth2.sdk.as.AuthorizationServerMetadata;
import com.nimbusds.oauth2.sdk.pkce.CodeChallengeMethod;
import java.io.IOException;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.hc.client5.http.classic.methods.HttpGet;
import org.apache.hc.client5.http.config.RequestConfig;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.Header;
import org.apache.hc.core5.http.HttpHost;
import org.apache.hc.core5.util.Timeout;
import servitor.connectors.access.Access;
import servitor.connectors.access.Deadline;
import servitor.connectors.http.HttpCall;
import servitor.connectors.http.JsonOverHttp;
import servitor.connectors.http.RoutedHttp;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * Finds out who signs people in for a system: the system names its authorization server (RFC 9728), which describes itself (RFC 8414,
 * or OpenID Connect Discovery 1.0). What they say is taken only where it is about themselves.
 */
final class Discovery {
    private static final Pattern METADATA = Pattern.compile("resource_metadata=\"([^\"]{1,2000})\"");
    private static final Pattern SCOPE = Pattern.compile("(?<![a-z_])scope=\"([^\"]{1,1000})\"");
    private static final String RESOURCE = "/.well-known/oauth-protected-resource";

    private final JsonOverHttp http = new JsonOverHttp();
    private final Access access;
    private final Deadline deadline;

    /** Asks with nobody's credentials. */
    Discovery(Access access, Deadline deadline) {
        this.access = access;
        this.deadline = deadline;
    }

    /**
     * What a system says of how its tokens are had.
     *
     * @param resource what tokens are asked for (RFC 8707); empty when that isn't said
     * @param scope empty when the system doesn't mind
     */
    record Resource(String issuer, String resource, String scope) {}

    /** What the system behind the connection says; one that says nothing is taken to be its own authorization server. */
    Resource resource() throws InterruptedException {
        String challenge = challenge();
        String asked = found(SCOPE, challenge).orElse("");
        for (URI url : resourceUrls(found(METADATA, challenge))) {
            Optional<JsonNode> metadata = get(url);
            String resource =
                    metadata.map(body -> body.path("resource").asString("")).orElse("");
            if (metadata.isPresent() && covers(resource)) {
                JsonNode body = metadata.get();
                List<String> scopes = new ArrayList<>();
                body.path("scopes_supported").values().forEach(one -> scopes.add(one.asString("")));
                return new Resource(
                        body.path("authorization_servers").path(0).asString(origin().toString()),
                        resource,
                        asked.isEmpty() ? String.join(" ", scopes) : asked);
            }
        }
        return new Resource(origin().toString(), address().toString(), asked);
    }

    /** What the authorization server says of itself; throws {@link SignIn.Failed} when it can't be used. */
    AuthorizationServerMetadata server(String issuer) throws SignIn.Failed, InterruptedException {
        URI named = safe(issuer)
                .orElseThrow(
                        () -> new SignIn.Failed("‘" + issuer + "’ can't be an authorization server: its address has "
                                + "to begin with https, or to lie inside"));
        for (URI url : serverUrls(named)) {
            Optional<JsonNode> metadata = get(url);
            if (metadata.isPresent() && same(metadata.get().path("issuer").asString(""), issuer)) {
                return usable(named, metadata.get());
            }
        }
        throw new SignIn.Failed(named.getAuthority()
                + " doesn't say where people sign in (RFC 8414); give --authorize-url and --token-url");
    }

    private AuthorizationServerMetadata usable(URI issuer, JsonNode metadata) throws SignIn.Failed {
        try {
            AuthorizationServerMetadata read = AuthorizationServerMetadata.parse(Json.write(metadata));
            boolean safe = safe(read.getAuthorizationEndpointURI())
                    && safe(read.getTokenEndpointURI())
                    && (read.getRegistrationEndpointURI() == null || safe(read.getRegistrationEndpointURI()));
            if (!safe) {
                throw new SignIn.Failed(issuer.getAuthority() + " names no addresses that can be used to sign in");
            }
            if (read.getCodeChallengeMethods() == null
                    || !read.getCodeChallengeMethods().contains(CodeChallengeMethod.S256)) {
                throw new SignIn.Failed(issuer.getAuthority()
                        + " doesn't say that it checks codes by PKCE with S256 (RFC 7636); if it does, give --authorize-url "
                        + "and --token-url");
            }
            return read;
        } catch (ParseException e) {
            throw new SignIn.Failed(issuer.getAuthority() + " describes itself with faults: " + e.getMessage());
        }
    }

    /** What the system answers to somebody it doesn't know (RFC 9110, section 11.6.1); empty when it says nothing. */
    private String challenge() throws InterruptedException {
        HttpGet request = new HttpGet(address());
        request.setHeader("Accept", "application/json, text/event-stream");
        request.setConfig(RequestConfig.custom()
                .setResponseTimeout(Timeout.ofMilliseconds(deadline.millis()))
                .build());
        try (Deadline.Cut cut = deadline.cut(request::cancel);
                ClassicHttpResponse response = RoutedHttp.client(access.inside(), access.trust())
                        .executeOpen(HttpHost.create(address()), request, null)) {
            Header header = response.getFirstHeader("WWW-Authenticate");
            return header == null ? "" : String.valueOf(header.getValue());
        } catch (IOException e) {
            if (Thread.interrupted()) {
                throw new InterruptedException("asking who signs people in was given up");
            }
            return "";
        }
    }

    private List<URI> resourceUrls(Optional<String> named) {
        List<URI> urls = new ArrayList<>();
        named.flatMap(this::safe)
                .filter(url -> Objects.equals(url.getAuthority(), address().getAuthority()))
                .ifPresent(urls::add);
        String path = path(address());
        if (!path.isEmpty()) {
            urls.add(origin().resolve(RESOURCE + path));
        }
        urls.add(origin().resolve(RESOURCE));
        return urls;
    }

    private static List<URI> serverUrls(URI issuer) {
        String path = path(issuer);
        URI origin = issuer.resolve("/");
        return List.of(
                origin.resolve("/.well-known/oauth-authorization-server" + path),
                origin.resolve("/.well-known/openid-configuration" + path),
                origin.resolve(path + "/.well-known/openid-configuration"));
    }

    private Optional<JsonNode> get(URI url) throws InterruptedException {
        return http.send(HttpCall.get(url, deadline), access.inside(), access.trust())
                        instanceof Reply.Answered answered
                ? Optional.of(answered.body())
                : Optional.empty();
    }

    /** Whether a resource is the connection's address or what it lies below. */
    private boolean covers(String resource) {
        return safe(resource)
                .filter(url -> Objects.equals(url.getScheme(), address().getScheme())
                        && Objects.equals(url.getAuthority(), address().getAuthority())
                        && (path(address()) + "/").startsWith(path(url) + "/"))
                .isPresent();
    }

    private Optional<URI> safe(String url) {
        try {
            return Optional.of(URI.create(url)).filter(this::safe);
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
    }

    /** Only what is inside is spoken to without TLS. */
    private boolean safe(URI url) {
        return url != null
                && url.getHost() != null
                && url.getUserInfo() == null
                && ("https".equals(url.getScheme()) || access.inside() && "http".equals(url.getScheme()));
    }

    private URI address() {
        return access.address();
    }

    private URI origin() {
        return address().resolve("/");
    }

    private static String path(URI url) {
        return String.valueOf(url.getRawPath()).replaceAll("/+$", "");
    }

    private static boolean same(String one, String other) {
        return one.replaceAll("/$", "").equals(other.replaceAll("/$", ""));
    }

    private static Optional<String> found(Pattern pattern, String text) {
        Matcher matcher = pattern.matcher(text);
        return matcher.find() ? Optional.of(matcher.group(1)) : Optional.empty();
    }
}
