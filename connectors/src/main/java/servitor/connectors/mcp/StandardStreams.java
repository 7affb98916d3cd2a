package servitor.connectors.mcp;

import io.modelcontextprotocol.json.McpJsonDefaults;
import io.modelcontextprotocol.json.TypeRef;
import io.modelcontextprotocol.spec.McpClientTransport;
import io.modelcontextprotocol.spec.McpSchema;
import io.modelcontextprotocol.spec.McpSchema.JSONRPCMessage;
import io.modelcontextprotocol.spec.ProtocolVersions;
import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.Serial;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import reactor.core.publisher.Mono;
import reactor.core.scheduler.Schedulers;
import servitor.connectors.access.Access;
import servitor.connectors.access.BoundedStream;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.ProgramAddress;

/**
 * The client's half of the protocol over the standard input and output of a program: a message is a line. The program gets an empty
 * environment but for what its connection names. Lines that are no messages, which some servers print, are passed over.
 */
final class StandardStreams implements McpClientTransport {
    private static final Logger LOG = LoggerFactory.getLogger(StandardStreams.class);
    private static final long GOODBYE_SECONDS = 2;
    private static final int LAST_WORDS = 3;
    private static final int LONGEST_WORDS = 200;

    private final ProgramAddress program;
    private final Credentials credentials;
    private final Deque<String> lastWords = new ConcurrentLinkedDeque<>();
    private final CompletableFuture<Ended> ended = new CompletableFuture<>();
    private volatile @Nullable Process process;
    private volatile boolean closing;

    /** The program isn't there any more. */
    static final class Ended extends IOException {
        @Serial
        private static final long serialVersionUID = 1L;

        Ended(String message) {
            super(message);
        }
    }

    StandardStreams(Access access) {
        this.program = ProgramAddress.of(access.address());
        this.credentials = access.credentials();
    }

    @Override
    public List<String> protocolVersions() {
        return List.of(
                ProtocolVersions.MCP_2024_11_05,
                ProtocolVersions.MCP_2025_03_26,
                ProtocolVersions.MCP_2025_06_18,
                ProtocolVersions.MCP_2025_11_25);
    }

    /** Completes, exceptionally, when the program ends before it is told to. */
    CompletableFuture<Ended> ended() {
        return ended;
    }

    /** At once: messages are sent without waiting for this to complete. */
    @Override
    public Mono<Void> connect(Function<Mono<JSONRPCMessage>, Mono<JSONRPCMessage>> handler) {
        return Mono.fromCallable(() -> {
            Process started = start();
            process = started;
            Thread errors = each("tool server's errors", started.getErrorStream(), this::remember, () -> {});
            each("tool server", started.getInputStream(), line -> take(line, handler), () -> end(started, errors));
            return null;
        });
    }

    private Process start() throws IOException {
        List<String> line = new ArrayList<>(List.of(program.path()));
        line.addAll(program.arguments());
        ProcessBuilder builder = new ProcessBuilder(line).directory(new File("/"));
        builder.environment().clear();
        builder.environment().putAll(program.variables());
        if (credentials instanceof Credentials.ApiKey key) {
            builder.environment().put(key.header(), key.secret());
        }
        try {
            return builder.start();
        } catch (IOException e) {
            throw new Ended("the program can't be started");
        }
    }

    private Thread each(String name, InputStream from, Consumer<String> what, Runnable atEnd) {
        Thread reading = new Thread(
                () -> {
                    try (BufferedReader lines = new BufferedReader(
                            new InputStreamReader(new BoundedStream(from), StandardCharsets.UTF_8))) {
                        for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                            what.accept(line);
                        }
                    } catch (IOException e) {
                        LOG.debug("The program {} isn't read any more.", program.path(), e);
                    } finally {
                        atEnd.run();
                    }
                },
                name);
        reading.setDaemon(true);
        reading.start();
        return reading;
    }

    private void take(String line, Function<Mono<JSONRPCMessage>, Mono<JSONRPCMessage>> handler) {
        if (!line.startsWith("{")) {
            if (!line.isBlank()) {
                LOG.info("The tool server {} printed a line that is no message; it is passed over.", program.path());
            }
            return;
        }
        try {
            handler.apply(Mono.just(McpSchema.deserializeJsonRpcMessage(McpJsonDefaults.getMapper(), line)))
                    .subscribe();
        } catch (IOException | RuntimeException e) {
            LOG.info("The tool server {} printed a line that is no message; it is passed over.", program.path());
        }
    }

    private void remember(String line) {
        if (!line.isBlank()) {
            lastWords.add(line.length() <= LONGEST_WORDS ? line : line.substring(0, LONGEST_WORDS));
            if (lastWords.size() > LAST_WORDS) {
                lastWords.remove();
            }
        }
    }

    private String words() {
        return lastWords.isEmpty() ? "" : ": " + credentials.hidden(String.join(" ", lastWords));
    }

    private void end(Process of, Thread errors) {
        if (closing) {
            return;
        }
        try {
            errors.join(TimeUnit.SECONDS.toMillis(GOODBYE_SECONDS));
            String how = of.waitFor(GOODBYE_SECONDS, TimeUnit.SECONDS)
                    ? "the tool server ended with " + of.exitValue()
                    : "the tool server says nothing any more";
            ended.completeExceptionally(new Ended(how + words()));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public Mono<Void> sendMessage(JSONRPCMessage message) {
        return Mono.<Void>fromCallable(() -> {
                    write(McpJsonDefaults.getMapper()
                                    .writeValueAsString(message)
                                    .replace("\n", " ") + "\n");
                    return null;
                })
                .subscribeOn(Schedulers.boundedElastic());
    }

    private synchronized void write(String line) throws IOException {
        Process to = process;
        if (to == null) {
            throw new Ended("the tool server isn't there");
        }
        OutputStream out = to.getOutputStream();
        try {
            out.write(line.getBytes(StandardCharsets.UTF_8));
            out.flush();
        } catch (IOException e) {
            throw why(e);
        }
    }

    /** A program that takes nothing any more has most often ended; how, is known in a moment. */
    private IOException why(IOException broken) {
        try {
            ended.get(GOODBYE_SECONDS, TimeUnit.SECONDS);
        } catch (ExecutionException e) {
            return e.getCause() instanceof Ended how ? how : broken;
        } catch (TimeoutException e) {
            return broken;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        return broken;
    }

    /** The program is told that nothing more comes, and ended when it goes on all the same. */
    @Override
    public Mono<Void> closeGracefully() {
        return Mono.<Void>fromRunnable(this::stop).subscribeOn(Schedulers.boundedElastic());
    }

    private void stop() {
        closing = true;
        Process of = process;
        if (of == null) {
            return;
        }
        try (OutputStream out = of.getOutputStream()) {
            out.flush();
        } catch (IOException e) {
            LOG.debug("The program {} had ended.", program.path(), e);
        }
        try {
            if (!of.waitFor(GOODBYE_SECONDS, TimeUnit.SECONDS)) {
                of.descendants().forEach(ProcessHandle::destroyForcibly);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        of.destroyForcibly();
    }

    @Override
    public <T> T unmarshalFrom(Object data, TypeRef<T> type) {
        return McpJsonDefaults.getMapper().convertValue(data, type);
    }
}
