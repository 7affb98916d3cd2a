package servitor.cli.client;

import java.io.IOException;
import java.io.InputStream;
import java.net.CookieManager;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.StringJoiner;
import org.jspecify.annotations.Nullable;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Talks to the service's API. What it refuses becomes a {@link Trouble} with the problem's own words. */
public final class Client {
    public static final JsonMapper JSON = JsonMapper.builder()
            .enable(tools.jackson.databind.DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .disable(
                    tools.jackson.databind.DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES) // newer services say more
            .build();

    private static final String CSRF = "XSRF-TOKEN";

    private final HttpClient http;
    private final Profile profile;
    private final @Nullable CookieManager cookies;

    public Client(Profile profile) {
        this(profile, null);
    }

    /** One that keeps cookies, to sign in as a browser does. */
    private Client(Profile profile, @Nullable CookieManager cookies) {
        HttpClient.Builder builder =
                HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(5)).version(HttpClient.Version.HTTP_1_1);
        if (cookies != null) {
            builder.cookieHandler(cookies);
        }
        this.http = builder.build();
        this.profile = profile;
        this.cookies = cookies;
    }

    /** Signs in with a password and makes a token; gives it. */
    public static String signIn(String url, String person, String password, String label) {
        CookieManager cookies = new CookieManager();
        Client client = new Client(new Profile(url, null), cookies);
        client.get("/api/session"); // brings the cookie that a request from outside doesn't have
        client.post("/api/session", Map.of("person", person, "password", password));
        client.get("/api/session");
        String token = client.post("/api/people/" + part(person) + "/tokens", Map.of("label", label))
                .path("token")
                .asString();
        client.delete("/api/session");
        return token;
    }

    /** An answer as one of the {@link Answers}. */
    public static <T> T as(Class<T> type, JsonNode answer) {
        return JSON.treeToValue(answer, type);
    }

    /** An answer that is a list of {@link Answers}. */
    public static <T> List<T> all(Class<T> type, JsonNode answer) {
        return answer.valueStream().map(one -> as(type, one)).toList();
    }

    public JsonNode delete(String path) {
        return read(send(request(path).DELETE(), HttpResponse.BodyHandlers.ofInputStream()));
    }

    public JsonNode get(String path) {
        return read(send(request(path).GET(), HttpResponse.BodyHandlers.ofInputStream()));
    }

    public JsonNode post(String path, Object body) {
        return post(path, body, null);
    }

    /** Posts with an idempotency key, under which a repeated request does nothing new. */
    public JsonNode post(String path, Object body, @Nullable String key) {
        HttpRequest.Builder request = request(path).POST(json(body));
        if (key != null) {
            request.header("Idempotency-Key", key);
        }
        return read(send(request, HttpResponse.BodyHandlers.ofInputStream()));
    }

    /** Posts bytes of some media type. */
    public JsonNode post(String path, String type, byte[] body) {
        return read(send(
                request(path).setHeader("Content-Type", type).POST(HttpRequest.BodyPublishers.ofByteArray(body)),
                HttpResponse.BodyHandlers.ofInputStream()));
    }

    public JsonNode put(String path, Object body) {
        return read(send(request(path).PUT(json(body)), HttpResponse.BodyHandlers.ofInputStream()));
    }

    /** The raw body of a long answer; the caller closes it. */
    public InputStream download(String path) {
        HttpResponse<InputStream> response = send(request(path).GET(), HttpResponse.BodyHandlers.ofInputStream());
        if (response.statusCode() != 200) {
            read(response);
        }
        return response.body();
    }

    /** Builds a query out of the parts that are there. */
    public static String query(Map<String, ?> parts) {
        StringJoiner query = new StringJoiner("&", "?", "").setEmptyValue("");
        parts.forEach((name, value) -> {
            if (value != null) {
                query.add(name + "=" + URLEncoder.encode(String.valueOf(value), StandardCharsets.UTF_8));
            }
        });
        return query.toString();
    }

    /** A part of a path, safe whatever it holds. */
    public static String part(String id) {
        return URLEncoder.encode(id, StandardCharsets.UTF_8).replace("+", "%20");
    }

    private HttpRequest.Builder request(String path) {
        try {
            HttpRequest.Builder request = HttpRequest.newBuilder(
                            URI.create(profile.url().replaceAll("/+$", "") + path))
                    .timeout(Duration.ofSeconds(60))
                    .header("Accept", "application/json, application/problem+json, application/jsonl")
                    .header("Content-Type", "application/json")
                    .header("User-Agent", "servitor-command-line");
            if (profile.token() != null) {
                request.header("Authorization", "Bearer " + profile.token());
            }
            if (cookies != null) {
                cookies.getCookieStore().getCookies().stream()
                        .filter(cookie -> cookie.getName().equals(CSRF))
                        .findFirst()
                        .ifPresent(cookie -> request.header("X-XSRF-TOKEN", cookie.getValue()));
            }
            return request;
        } catch (IllegalArgumentException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, "‘" + profile.url() + "’ is not an address: " + e.getMessage());
        }
    }

    private static HttpRequest.BodyPublisher json(Object body) {
        return HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body));
    }

    private <T> HttpResponse<T> send(HttpRequest.Builder request, HttpResponse.BodyHandler<T> handler) {
        try {
            return http.send(request.build(), handler);
        } catch (IOException e) {
            throw new Trouble(
                    ExitCode.UNREACHABLE,
                    "The service at " + profile.url()
                            + " can't be reached. Start it with ‘servitor serve’ or ‘servitor demo’, or name another with --url.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Trouble(ExitCode.UNREACHABLE, "The request was interrupted.");
        }
    }

    private JsonNode read(HttpResponse<InputStream> response) {
        String text;
        try (InputStream body = response.body()) {
            text = new String(body.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new Trouble(ExitCode.UNREACHABLE, "The service's answer broke off: " + e.getMessage());
        }
        int status = response.statusCode();
        if (status >= 200 && status < 300) {
            return text.isBlank() ? JSON.createObjectNode() : JSON.readTree(text);
        }
        throw new Trouble(code(status), words(status, text), problem(text));
    }

    private static JsonNode problem(String text) {
        try {
            return JSON.readTree(text);
        } catch (RuntimeException e) {
            return JSON.createObjectNode();
        }
    }

    private static ExitCode code(int status) {
        return switch (status) {
            case 401, 403 -> ExitCode.NOT_ALLOWED;
            case 400 -> ExitCode.WRONG_USAGE;
            case 502, 503, 504 -> ExitCode.UNREACHABLE;
            default -> ExitCode.NO;
        };
    }

    private static String words(int status, String text) {
        try {
            JsonNode problem = JSON.readTree(text);
            StringBuilder words = new StringBuilder(problem.path("title").asString("Error " + status))
                    .append(": ")
                    .append(problem.path("detail").asString(""));
            problem.path("findings").forEach(finding -> words.append("\n  ").append(Output.finding(finding)));
            return words.toString();
        } catch (RuntimeException e) {
            return "The service answered " + status + ", and nothing more that could be read.";
        }
    }
}
