package servitor.connectors.mcp;

import io.modelcontextprotocol.server.McpServer;
import io.modelcontextprotocol.server.McpStatelessServerFeatures;
import io.modelcontextprotocol.server.McpStatelessSyncServer;
import io.modelcontextprotocol.server.transport.HttpServletStatelessServerTransport;
import io.modelcontextprotocol.spec.McpSchema;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Function;
import org.apache.catalina.Context;
import org.apache.catalina.LifecycleException;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.startup.Tomcat;
import org.apache.catalina.valves.ValveBase;
import org.jspecify.annotations.Nullable;

/** A tool server of the protocol's own library, on loopback. */
final class ToolServer implements AutoCloseable {
    private final Tomcat tomcat;
    private final McpStatelessSyncServer server;
    private volatile @Nullable String demanded;
    private final AtomicInteger requests = new AtomicInteger();

    ToolServer(Path folder) throws LifecycleException {
        HttpServletStatelessServerTransport transport =
                HttpServletStatelessServerTransport.builder().build();
        server = McpServer.sync(transport)
                .serverInfo("kit store", "1")
                .capabilities(McpSchema.ServerCapabilities.builder().tools(true).build())
                .build();
        tomcat = serve(folder, transport, new ValveBase(true) {
            @Override
            public void invoke(Request request, Response response) throws IOException, ServletException {
                requests.incrementAndGet();
                if (demanded != null && !demanded.equals(request.getHeader("Authorization"))) {
                    response.sendError(HttpServletResponse.SC_UNAUTHORIZED);
                } else {
                    getNext().invoke(request, response);
                }
            }
        });
    }

    /** A server of {@code protocol} under {@code /mcp}, seen first by {@code gate}. */
    static Tomcat serve(Path folder, HttpServlet protocol, ValveBase gate) throws LifecycleException {
        Tomcat tomcat = new Tomcat();
        tomcat.setBaseDir(folder.toString());
        tomcat.setPort(0);
        tomcat.getConnector().setProperty("address", "127.0.0.1");
        tomcat.getHost().getPipeline().addValve(gate);
        Context context = tomcat.addContext("", folder.toString());
        Tomcat.addServlet(context, "mcp", protocol).setAsyncSupported(true);
        context.addServletMappingDecoded("/mcp/*", "mcp");
        tomcat.start();
        return tomcat;
    }

    /** Serves from now on only whoever sends this in {@code Authorization}. */
    void demand(String authorization) {
        demanded = authorization;
    }

    /** How many requests have reached it. */
    int requests() {
        return requests.get();
    }

    static URI url(Tomcat tomcat) {
        return URI.create("http://127.0.0.1:" + tomcat.getConnector().getLocalPort() + "/mcp");
    }

    URI url() {
        return url(tomcat);
    }

    /** Offers a tool, in place of one of the same name. */
    void offer(String name, String description, Function<Map<String, Object>, McpSchema.CallToolResult> does) {
        server.removeTool(name);
        McpSchema.Tool tool = McpSchema.Tool.builder()
                .name(name)
                .description(description)
                .inputSchema(Map.of("type", "object", "properties", Map.of("item", Map.of("type", "string"))))
                .build();
        server.addTool(new McpStatelessServerFeatures.SyncToolSpecification(
                tool, (context, request) -> does.apply(request.arguments())));
    }

    static McpSchema.CallToolResult text(String text) {
        return McpSchema.CallToolResult.builder()
                .content(List.of(McpSchema.TextContent.builder(text).build()))
                .build();
    }

    @Override
    public void close() throws LifecycleException {
        server.close();
        tomcat.stop();
        tomcat.destroy();
    }
}
