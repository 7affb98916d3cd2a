package servitor.connectors.mcp;

import io.modelcontextprotocol.server.McpServer;
import io.modelcontextprotocol.server.McpServerFeatures;
import io.modelcontextprotocol.server.McpSyncServer;
import io.modelcontextprotocol.server.transport.HttpServletStreamableServerTransportProvider;
import io.modelcontextprotocol.spec.McpSchema;
import jakarta.servlet.ServletException;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.apache.catalina.LifecycleException;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.startup.Tomcat;
import org.apache.catalina.valves.ValveBase;

/** A tool server that keeps a session and answers by events. */
final class SessionServer implements AutoCloseable {
    private final Tomcat tomcat;
    private final McpSyncServer server;
    private final Semaphore ended = new Semaphore(0);

    SessionServer(Path folder) throws IOException, LifecycleException {
        HttpServletStreamableServerTransportProvider transport =
                HttpServletStreamableServerTransportProvider.builder().build();
        server = McpServer.sync(transport)
                .serverInfo("with sessions", "1")
                .capabilities(
                        McpSchema.ServerCapabilities.builder().tools(false).build())
                .tools(McpServerFeatures.SyncToolSpecification.builder()
                        .tool(McpSchema.Tool.builder()
                                .name("greet")
                                .description("Greets everybody.")
                                .inputSchema(Map.of("type", "object"))
                                .build())
                        .callHandler((exchange, request) -> ToolServer.text("Good day\nto all"))
                        .build())
                .build();
        tomcat = ToolServer.serve(Files.createDirectories(folder), transport, new ValveBase(true) {
            @Override
            public void invoke(Request request, Response response) throws IOException, ServletException {
                getNext().invoke(request, response);
                if (request.getMethod().equals("DELETE")) {
                    ended.release();
                }
            }
        });
    }

    URI url() {
        return ToolServer.url(tomcat);
    }

    /** Whether so many sessions have been given back in time. */
    boolean givenBack(int sessions, Duration limit) throws InterruptedException {
        return ended.tryAcquire(sessions, limit.toMillis(), TimeUnit.MILLISECONDS);
    }

    @Override
    public void close() throws LifecycleException {
        server.close();
        tomcat.stop();
        tomcat.destroy();
    }
}
