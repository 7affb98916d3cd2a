package servitor.connectors.signin;

import com.nimbusds.oauth2.sdk.AuthorizationRequest;
import com.nimbusds.oauth2.sdk.ResponseType;
import com.nimbusds.oauth2.sdk.Scope;
import com.nimbusds.oauth2.sdk.as.AuthorizationServerMetadata;
import com.nimbusds.oauth2.sdk.auth.ClientAuthenticationMethod;
import com.nimbusds.oauth2.sdk.id.ClientID;
import com.nimbusds.oauth2.sdk.id.State;
import com.nimbusds.oauth2.sdk.pkce.CodeChallengeMethod;
import com.nimbusds.oauth2.sdk.pkce.CodeVerifier;
import java.net.URI;
import java.util.List;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials.ByBrowser;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Tokens;
import servitor.connectors.http.HttpCall;
import servitor.connectors.http.JsonOverHttp;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Lets a person sign in at an outside system in their browser, so that the service may act there for them: the authorization code
 * flow of OAuth 2.1 (RFC 6749, section 4.1) with PKCE (RFC 7636). What isn't declared is found out, and a client that has no id there
 * yet registers (RFC 7591).
 */
public final class BrowserSignIn {
    private final TokenEndpoint endpoint = new TokenEndpoint();
    private final JsonOverHttp http = new JsonOverHttp();

    /**
     * Who signs people in, and as what the service is known there. What isn't known is empty.
     *
     * @param issuer the authorization server's name for itself
     * @param resource what tokens are asked for (RFC 8707)
     * @param client the service's id there
     */
    public record Provider(
            String authorizeUrl,
            String tokenUrl,
            String issuer,
            String resource,
            String scope,
            String client,
            String secret) {
        private boolean hasPlaces() {
            return !authorizeUrl.isEmpty() && !tokenUrl.isEmpty();
        }

        private Provider as(String client, String secret) {
            return new Provider(authorizeUrl, tokenUrl, issuer, resource, scope, client, secret);
        }

        @Override
        public String toString() {
            return "client " + client + " at " + tokenUrl;
        }
    }

    /**
     * {@code given} with everything that signing in needs.
     *
     * @param redirect where browsers come back to
     * @throws SignIn.Failed saying what can't be found out
     */
    public Provider completed(Access access, Provider given, URI redirect, Deadline deadline)
            throws SignIn.Failed, InterruptedException {
        if (given.hasPlaces()) {
            if (given.client().isEmpty()) {
                throw new SignIn.Failed("a client's id is needed: give it as --user");
            }
            return given;
        }
        Discovery discovery = new Discovery(access, deadline);
        Discovery.Resource resource = given.issuer().isEmpty()
                ? discovery.resource()
                : new Discovery.Resource(given.issuer(), given.resource(), given.scope());
        AuthorizationServerMetadata server = discovery.server(resource.issuer());
        Provider found = new Provider(
                server.getAuthorizationEndpointURI().toString(),
                server.getTokenEndpointURI().toString(),
                server.getIssuer().getValue(),
                given.resource().isEmpty() ? resource.resource() : given.resource(),
                given.scope().isEmpty() ? resource.scope() : given.scope(),
                given.client(),
                given.secret());
        return found.client().isEmpty() ? registered(access, found, server, redirect, deadline) : found;
    }

    private Provider registered(
            Access access, Provider found, AuthorizationServerMetadata server, URI redirect, Deadline deadline)
            throws SignIn.Failed, InterruptedException {
        URI url = server.getRegistrationEndpointURI();
        if (url == null) {
            throw new SignIn.Failed(server.getIssuer()
                    + " registers nobody by itself: register the service there, with the address " + redirect
                    + ", and give the client's id as --user");
        }
        Reply reply = http.send(
                HttpCall.post(url, "application/json", Json.write(registration(server, redirect, found)), deadline),
                access.inside(),
                access.trust());
        JsonNode body = reply instanceof Reply.Answered answered ? answered.body() : Json.object();
        String client = body.path("client_id").asString("");
        if (client.isEmpty()) {
            throw new SignIn.Failed(url.getAuthority() + " didn't register the service: " + reply.detail());
        }
        return found.as(client, body.path("client_secret").asString(""));
    }

    /** RFC 7591, section 2. A server that says nothing of how clients sign in takes HTTP Basic (RFC 8414, section 2). */
    private static ObjectNode registration(AuthorizationServerMetadata server, URI redirect, Provider found)
            throws SignIn.Failed {
        List<ClientAuthenticationMethod> ways = server.getTokenEndpointAuthMethods();
        boolean open = ways != null && ways.contains(ClientAuthenticationMethod.NONE);
        if (!open && ways != null && !ways.contains(ClientAuthenticationMethod.CLIENT_SECRET_BASIC)) {
            throw new SignIn.Failed(server.getIssuer() + " takes clients neither by HTTP Basic nor without a secret");
        }
        ObjectNode body = Json.object()
                .put("client_name", "Servitor")
                .put("token_endpoint_auth_method", open ? "none" : "client_secret_basic");
        body.putArray("redirect_uris").add(redirect.toString());
        body.putArray("grant_types").add("authorization_code").add("refresh_token");
        body.putArray("response_types").add("code");
        if (!found.scope().isEmpty()) {
            body.put("scope", found.scope());
        }
        return body;
    }

    /** A new verifier for one sign-in; it never leaves the service but to fetch the tokens (RFC 7636, section 4.1). */
    public static String verifier() {
        return new CodeVerifier().getValue();
    }

    /** What a browser opens to sign in (RFC 6749, section 4.1.1). */
    public static URI address(Provider provider, URI redirect, String state, String verifier) {
        var request = new AuthorizationRequest.Builder(ResponseType.CODE, new ClientID(provider.client()))
                .endpointURI(URI.create(provider.authorizeUrl()))
                .redirectionURI(redirect)
                .state(new State(state))
                .codeChallenge(new CodeVerifier(verifier), CodeChallengeMethod.S256);
        if (!provider.scope().isEmpty()) {
            request.scope(Scope.parse(provider.scope()));
        }
        if (!provider.resource().isEmpty()) {
            request.resource(URI.create(provider.resource()));
        }
        return request.build().toURI();
    }

    /** The tokens for the code that a browser came back with; throws {@link SignIn.Failed} when there are none. */
    public Tokens tokens(ByBrowser client, String code, String verifier, URI redirect, Access access, Deadline deadline)
            throws SignIn.Failed, InterruptedException {
        return SignIn.tokens(endpoint.first(client, code, verifier, redirect, access, deadline));
    }
}
