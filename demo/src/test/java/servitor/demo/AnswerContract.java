package servitor.demo;

import com.networknt.schema.Error;
import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaLocation;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.slf4j.LoggerFactory;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.web.filter.OncePerRequestFilter;
import org.springframework.web.util.ContentCachingRequestWrapper;
import org.springframework.web.util.ContentCachingResponseWrapper;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * Holds the services that tests start to their published description: every answer in JSON, whoever asked, and every body that was
 * accepted. What breaks it becomes an answer of status 500, so that whatever test asked fails.
 */
@Order(Ordered.HIGHEST_PRECEDENCE)
public class AnswerContract extends OncePerRequestFilter {
    private static final String DOCUMENT = "https://servitor.example/openapi.json";
    private static final int LONGEST = 8_000_000;

    private final JsonNode document;
    private final SchemaRegistry registry;
    private final List<Operation> operations = new ArrayList<>();
    private final Map<String, Schema> schemas = new ConcurrentHashMap<>();

    private record Operation(String method, Pattern path, String pointer, JsonNode described) {
        Optional<String> answerPointer(String status, String type) {
            JsonNode responses = described.path("responses");
            String named = responses.has(status) ? status : "default";
            return responses.has(named)
                    ? Optional.of(pointer + "/responses/" + named + "/content/" + type.replace("/", "~1") + "/schema")
                    : Optional.empty();
        }
    }

    public AnswerContract() {
        try (InputStream in = AnswerContract.class.getResourceAsStream("/openapi.yaml")) {
            document = Json.of(new Load(LoadSettings.builder().build()).loadFromInputStream(in));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        registry = SchemaRegistry.withDefaultDialect(
                SpecificationVersion.DRAFT_2020_12, builder -> builder.schemas(Map.of(DOCUMENT, Json.write(document))));
        document.path("paths")
                .properties()
                .forEach(path -> path.getValue()
                        .properties()
                        .forEach(method -> operations.add(new Operation(
                                method.getKey().toUpperCase(java.util.Locale.ROOT),
                                Pattern.compile(path.getKey().replaceAll("\\{[^}]+}", "[^/]+")),
                                "/paths/" + path.getKey().replace("/", "~1") + "/" + method.getKey(),
                                method.getValue()))));
    }

    @Override
    protected boolean shouldNotFilter(HttpServletRequest request) {
        return !request.getRequestURI().startsWith("/api/")
                || request.getRequestURI().startsWith("/api/manage/")
                || operation(request).map(AnswerContract::streams).orElse(false);
    }

    private static boolean streams(Operation operation) {
        return operation.described().path("responses").properties().stream()
                .filter(response -> response.getKey().startsWith("2"))
                .noneMatch(response -> response.getValue().has("$ref")
                        || response.getValue().path("content").isMissingNode()
                        || response.getValue().path("content").has("application/json"));
    }

    private Optional<Operation> operation(HttpServletRequest request) {
        return operations.stream()
                .filter(one -> one.method().equals(request.getMethod())
                        && one.path().matcher(request.getRequestURI()).matches())
                .min(java.util.Comparator.comparing(one -> one.path().pattern().contains("[^/]+")));
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        var asked = new ContentCachingRequestWrapper(request, LONGEST);
        var answered = new ContentCachingResponseWrapper(response);
        chain.doFilter(asked, answered);
        List<String> faults = operation(request)
                .map(operation -> faults(operation, asked, answered))
                .orElse(List.of());
        if (!faults.isEmpty()) {
            String all =
                    request.getMethod() + " " + request.getRequestURI() + " → " + answered.getStatus() + ": " + faults;
            LoggerFactory.getLogger(AnswerContract.class).error("Not as published: {}", all);
            answered.reset();
            answered.setStatus(500);
            answered.setContentType("application/problem+json");
            answered.getWriter()
                    .write(Json.write(
                            Json.object().put("title", "Not as published").put("detail", all)));
        }
        answered.copyBodyToResponse();
    }

    private List<String> faults(
            Operation operation, ContentCachingRequestWrapper asked, ContentCachingResponseWrapper answered) {
        String type = String.valueOf(answered.getContentType()).replaceAll(";.*", "");
        String body = new String(answered.getContentAsByteArray(), StandardCharsets.UTF_8);
        List<String> faults = new ArrayList<>();
        if (type.endsWith("json") && !body.isEmpty()) {
            Optional<String> pointer = operation.answerPointer(String.valueOf(answered.getStatus()), type);
            faults.addAll(pointer.map(at -> faults(at, body)).orElse(List.of("no such status is described")));
        }
        if (answered.getStatus() == HttpServletResponse.SC_CREATED && answered.getHeader("Location") == null) {
            faults.add("what was made isn't told where it is");
        }
        String sent = new String(asked.getContentAsByteArray(), StandardCharsets.UTF_8);
        if (answered.getStatus() < 300
                && !sent.isBlank()
                && String.valueOf(asked.getContentType()).startsWith("application/json")) {
            faults.addAll(faults(operation.pointer() + "/requestBody/content/application~1json/schema", sent).stream()
                    .map(fault -> "it took a body where " + fault)
                    .toList());
        }
        return faults;
    }

    private List<String> faults(String pointer, String body) {
        try {
            return schemas
                    .computeIfAbsent(
                            resolved(pointer), at -> registry.getSchema(SchemaLocation.of(DOCUMENT + "#" + at)))
                    .validate(body, InputFormat.JSON)
                    .stream()
                    .map(Error::toString)
                    .collect(Collectors.toList());
        } catch (RuntimeException e) {
            return List.of("nothing is described at " + pointer + ": " + e.getMessage());
        }
    }

    /** Follows a reference that stands in the place of a response or a body, which JSON Schema knows nothing of. */
    private String resolved(String pointer) {
        for (int cut = pointer.indexOf('/', 1); cut > 0; cut = pointer.indexOf('/', cut + 1)) {
            JsonNode at = document.at(pointer.substring(0, cut));
            if (at.has("$ref")) {
                return resolved(at.get("$ref").asString().substring(1) + pointer.substring(cut));
            }
        }
        if (document.at(pointer).isMissingNode()) {
            throw new IllegalArgumentException("there is nothing");
        }
        return pointer;
    }
}
