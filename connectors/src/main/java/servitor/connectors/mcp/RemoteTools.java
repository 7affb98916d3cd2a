package servitor.connectors.mcp;

import io.modelcontextprotocol.client.McpAsyncClient;
import io.modelcontextprotocol.client.McpClient;
import io.modelcontextprotocol.spec.McpClientTransport;
import io.modelcontextprotocol.spec.McpSchema;
import java.net.ConnectException;
import java.net.URI;
import java.net.UnknownHostException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeoutException;
import javax.net.ssl.SSLHandshakeException;
import org.apache.hc.client5.http.ConnectTimeoutException;
import org.jspecify.annotations.Nullable;
import reactor.core.publisher.Mono;
import servitor.connectors.access.Access;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Route;
import servitor.connectors.signin.SignIn;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.RemoteTool;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Tools of a Model Context Protocol server, over streamable HTTP or the standard input and output of a program. A tool is
 * called only while what the server says of it has the digest that somebody agreed to.
 */
public final class RemoteTools implements Connector<RemoteTool> {
    private static final int MOST_TOOLS = 500;
    private static final int UNAUTHORIZED = 401;
    private static final int FORBIDDEN = 403;

    private final SignIn signIn = new SignIn();

    /**
     * A tool as its server describes it.
     *
     * @param effect what it says of its own effect, which is a hint and nobody's word; the strictest when it says nothing
     * @param digest over all but that, to be agreed to
     */
    public record Described(
            String name, String description, JsonNode inputs, JsonNode outputs, String effect, String digest) {
        static Described of(McpSchema.Tool tool) {
            String description = tool.description() == null ? "" : tool.description();
            JsonNode inputs = Json.of(tool.inputSchema());
            JsonNode outputs = Json.of(tool.outputSchema());
            ObjectNode all = Json.object().put("name", tool.name()).put("description", description);
            all.set("inputs", inputs);
            all.set("outputs", outputs);
            return new Described(
                    tool.name(), description, inputs, outputs, hinted(tool).word(), Json.digest(all));
        }

        private static Effect hinted(McpSchema.Tool tool) {
            McpSchema.ToolAnnotations hints = tool.annotations();
            if (hints != null && Boolean.TRUE.equals(hints.readOnlyHint())) {
                return Effect.READ;
            }
            return hints != null && Boolean.TRUE.equals(hints.idempotentHint()) ? Effect.WRITE : Effect.ONCE;
        }
    }

    @Override
    public Reply call(Access access, RemoteTool binding, ObjectNode args, String key, Deadline deadline)
            throws InterruptedException {
        boolean sent = false;
        try (Session session = connect(access, deadline)) {
            Described now = session.described(binding.name());
            if (now == null) {
                return new Reply.Refused(Problem.NOT_FOUND, "the server has no tool ‘" + binding.name() + "’ any more");
            }
            if (!now.digest().equals(binding.agreed())) {
                return new Reply.Refused(
                        Problem.INVALID,
                        "what the server says of ‘" + binding.name()
                                + "’ has changed since somebody agreed to it; it says " + now.digest() + " now");
            }
            sent = true;
            return RemoteAnswer.of(session.call(binding.name(), args, key));
        } catch (SignIn.Failed e) {
            return new Reply.NotSent(String.valueOf(e.getMessage()));
        } catch (RuntimeException e) {
            return failed(access, e, sent);
        }
    }

    @Override
    public Reply test(Access access, Deadline deadline) throws InterruptedException {
        try (Session session = connect(access, deadline)) {
            return new Reply.Answered(
                    200,
                    Json.object()
                            .put("server", session.client().getServerInfo().name())
                            .put("tools", session.list().size()));
        } catch (SignIn.Failed e) {
            return new Reply.NotSent(String.valueOf(e.getMessage()));
        } catch (RuntimeException e) {
            return failed(access, e, false);
        }
    }

    /** The tools of a server; throws {@link IllegalStateException} when it can't be asked. */
    public List<Described> tools(Access access, Deadline deadline) throws InterruptedException {
        try (Session session = connect(access, deadline)) {
            return session.list().stream().map(Described::of).toList();
        } catch (SignIn.Failed e) {
            throw new IllegalStateException(e.getMessage(), e);
        } catch (RuntimeException e) {
            throw new IllegalStateException(failed(access, e, false).detail(), e);
        }
    }

    /** A talk with a server; each step of it has what is left of the time of all. */
    private record Session(McpAsyncClient client, CompletableFuture<?> ended, Deadline deadline)
            implements AutoCloseable {
        /** Waits for an answer, or for the end of whoever was asked. */
        <T> T answer(Mono<T> asked) {
            return Objects.requireNonNull(
                    Mono.firstWithSignal(asked, Mono.<T>fromFuture(ended.thenApply(none -> null), true))
                            .block(deadline.left()));
        }

        @Nullable
        Described described(String name) {
            return list().stream()
                    .filter(tool -> tool.name().equals(name))
                    .findFirst()
                    .map(Described::of)
                    .orElse(null);
        }

        List<McpSchema.Tool> list() {
            List<McpSchema.Tool> tools = new ArrayList<>();
            String cursor = null;
            do {
                McpSchema.ListToolsResult page = answer(client.listTools(cursor));
                tools.addAll(page.tools());
                cursor = page.nextCursor();
            } while (cursor != null && tools.size() < MOST_TOOLS);
            return tools;
        }

        McpSchema.CallToolResult call(String name, ObjectNode args, String key) {
            return answer(client.callTool(new McpSchema.CallToolRequest(
                    name, Json.mapper().convertValue(args, Map.class), Map.of("servitor/key", key))));
        }

        @Override
        public void close() {
            client.close();
        }
    }

    private Session connect(Access access, Deadline deadline) throws SignIn.Failed, InterruptedException {
        McpClientTransport transport = transport(access, deadline);
        McpAsyncClient client = McpClient.async(transport)
                .requestTimeout(deadline.left())
                .initializationTimeout(deadline.left())
                .clientInfo(new McpSchema.Implementation("servitor", "1"))
                .build();
        try {
            Session session = new Session(
                    client,
                    transport instanceof StandardStreams program ? program.ended() : new CompletableFuture<>(),
                    deadline);
            session.answer(client.initialize());
            return session;
        } catch (RuntimeException e) {
            client.close();
            throw e;
        }
    }

    private McpClientTransport transport(Access access, Deadline deadline) throws SignIn.Failed, InterruptedException {
        if ("exec".equals(access.address().getScheme())) {
            return new StandardStreams(access);
        }
        URI address = access.address();
        String path = address.getRawPath();
        boolean bare = path == null || path.isEmpty() || path.equals("/");
        return new StreamableHttp(
                bare ? address.resolve("/mcp") : address,
                signIn.headers(access, deadline),
                access.inside(),
                access.trust());
    }

    private Reply failed(Access access, RuntimeException e, boolean sent) {
        String where = access.address().getAuthority() == null
                ? "the program"
                : access.address().getAuthority();
        boolean late = false;
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof StreamableHttp.Answered answered && answered.status() == UNAUTHORIZED) {
                signIn.wasRefused(access);
            }
            Reply before = sent ? null : before(where, access, cause);
            if (before != null) {
                return before;
            }
            if (cause instanceof StandardStreams.Ended) {
                String said = String.valueOf(cause.getMessage());
                return sent ? new Reply.Unknown(said, false) : new Reply.NotSent(said);
            }
            late |= cause instanceof TimeoutException;
        }
        return sent
                ? new Reply.Unknown(where + (late ? " didn't answer in time" : " broke off"), late)
                : new Reply.NotSent(where + (late ? " didn't answer in time" : " doesn't speak the protocol"));
    }

    /** What a fault means while the tool hasn't been called yet; null when it says nothing special. */
    private static @Nullable Reply before(String where, Access access, Throwable cause) {
        if (cause instanceof Route.LeadsInside) {
            return new Reply.Refused(Problem.REFUSED, Objects.requireNonNull(cause.getMessage()));
        } else if (cause instanceof ConnectException
                || cause instanceof ConnectTimeoutException
                || cause instanceof UnknownHostException) {
            return new Reply.NotSent(where + " can't be reached");
        } else if (cause instanceof SSLHandshakeException) {
            return new Reply.NotSent(where + " doesn't show a certificate that holds for it");
        } else if (cause instanceof StreamableHttp.Answered answered
                && (answered.status() == UNAUTHORIZED || answered.status() == FORBIDDEN)) {
            return new Reply.Refused(
                    Problem.REFUSED,
                    access.credentials() instanceof Credentials.None
                            ? where
                                    + " wants to be signed in to, and the connection doesn't sign in; an admin gives it "
                                    + "credentials, or ‘--sign-in authorization-code’ to sign in there in a browser"
                            : where + " doesn't accept the connection's credentials");
        }
        return null;
    }
}
