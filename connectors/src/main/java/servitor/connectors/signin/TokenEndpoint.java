package servitor.connectors.signin;

import com.nimbusds.oauth2.sdk.AccessTokenResponse;
import com.nimbusds.oauth2.sdk.AuthorizationCode;
import com.nimbusds.oauth2.sdk.AuthorizationCodeGrant;
import com.nimbusds.oauth2.sdk.AuthorizationGrant;
import com.nimbusds.oauth2.sdk.ClientCredentialsGrant;
import com.nimbusds.oauth2.sdk.ParseException;
import com.nimbusds.oauth2.sdk.RefreshTokenGrant;
import com.nimbusds.oauth2.sdk.Scope;
import com.nimbusds.oauth2.sdk.TokenRequest;
import com.nimbusds.oauth2.sdk.auth.ClientSecretBasic;
import com.nimbusds.oauth2.sdk.auth.Secret;
import com.nimbusds.oauth2.sdk.http.HTTPRequest;
import com.nimbusds.oauth2.sdk.id.ClientID;
import com.nimbusds.oauth2.sdk.pkce.CodeVerifier;
import com.nimbusds.oauth2.sdk.token.AccessToken;
import com.nimbusds.oauth2.sdk.token.RefreshToken;
import com.nimbusds.oauth2.sdk.util.JSONObjectUtils;
import java.net.URI;
import java.time.Duration;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials.ByBrowser;
import servitor.connectors.access.Credentials.ClientCredentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.http.HttpCall;
import servitor.connectors.http.JsonOverHttp;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** Asks for tokens (RFC 6749, section 3.2). Safe for use by several threads. */
final class TokenEndpoint {
    private static final Duration LIMIT = Duration.ofSeconds(10);
    private static final long LONGEST_TOKEN = 86_400;
    /** How long a token is good for whose server doesn't say, in seconds. */
    private static final long UNSAID = 60;

    private final JsonOverHttp http = new JsonOverHttp();

    /**
     * What was given.
     *
     * @param refresh empty when there is none
     */
    record Issued(String access, Duration lasts, String refresh) {}

    /** A token of the client's own (RFC 6749, section 4.4). */
    Issued own(ClientCredentials client, Access access, Deadline deadline) throws SignIn.Failed, InterruptedException {
        var builder = new TokenRequest.Builder(
                client.tokenUrl(), basic(client.client(), client.secret()), new ClientCredentialsGrant());
        return ask(
                (client.scope().isBlank() ? builder : builder.scope(Scope.parse(client.scope()))).build(),
                access,
                deadline);
    }

    /** The tokens that a code stands for which somebody came back with (RFC 6749, section 4.1.3; RFC 7636, section 4.5). */
    Issued first(ByBrowser client, String code, String verifier, URI redirect, Access access, Deadline deadline)
            throws SignIn.Failed, InterruptedException {
        return ask(
                request(
                        client,
                        new AuthorizationCodeGrant(new AuthorizationCode(code), redirect, new CodeVerifier(verifier))),
                access,
                deadline);
    }

    /** The next tokens (RFC 6749, section 6). One that gives no new refresh token leaves the old one good. */
    Issued next(ByBrowser client, String refresh, Access access, Deadline deadline)
            throws SignIn.Failed, InterruptedException {
        Issued issued = ask(request(client, new RefreshTokenGrant(new RefreshToken(refresh))), access, deadline);
        return issued.refresh().isEmpty() ? new Issued(issued.access(), issued.lasts(), refresh) : issued;
    }

    private static TokenRequest request(ByBrowser client, AuthorizationGrant grant) {
        TokenRequest.Builder builder = client.secret().isEmpty()
                ? new TokenRequest.Builder(client.tokenUrl(), new ClientID(client.client()), grant)
                : new TokenRequest.Builder(client.tokenUrl(), basic(client.client(), client.secret()), grant);
        return (client.resource().isEmpty() ? builder : builder.resource(URI.create(client.resource()))).build();
    }

    /** Signed in by HTTP Basic (RFC 6749, section 2.3.1). */
    private static ClientSecretBasic basic(String client, String secret) {
        return new ClientSecretBasic(new ClientID(client), new Secret(secret));
    }

    private Issued ask(TokenRequest request, Access access, Deadline deadline)
            throws SignIn.Failed, InterruptedException {
        HTTPRequest form = request.toHTTPRequest();
        URI url = request.getEndpointURI();
        HttpCall call = HttpCall.post(
                url, "application/x-www-form-urlencoded", String.valueOf(form.getBody()), deadline.orIn(LIMIT));
        Reply reply = http.send(
                form.getAuthorization() == null ? call : call.with("Authorization", form.getAuthorization()),
                access.inside(),
                access.trust());
        if (reply instanceof Reply.Answered answered) {
            return read(url, answered.body());
        }
        throw new SignIn.Failed(
                reply instanceof Reply.Refused refused
                        ? refused.detail()
                        : url.getAuthority() + " gave no token: "
                                + access.credentials().hidden(reply.detail()),
                reply instanceof Reply.Failed);
    }

    private static Issued read(URI url, JsonNode body) throws SignIn.Failed {
        try {
            var tokens = AccessTokenResponse.parse(JSONObjectUtils.parse(Json.write(body)))
                    .getTokens();
            AccessToken token = tokens.getBearerAccessToken();
            long lasts = Math.min(LONGEST_TOKEN, token.getLifetime() > 0 ? token.getLifetime() : UNSAID);
            return new Issued(
                    token.getValue(),
                    Duration.ofSeconds(lasts),
                    tokens.getRefreshToken() == null
                            ? ""
                            : tokens.getRefreshToken().getValue());
        } catch (ParseException | RuntimeException e) {
            throw new SignIn.Failed(
                    url.getAuthority() + " answered with something that is no bearer token of RFC 6749");
        }
    }
}
