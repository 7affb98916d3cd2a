package servitor.connectors.mcp;

import io.modelcontextprotocol.server.McpServer;
import io.modelcontextprotocol.server.McpStatelessServerFeatures;
import io.modelcontextprotocol.server.McpStatelessSyncServer;
import io.modelcontextprotocol.server.transport.HttpServletStatelessServerTransport;
import io.modelcontextprotocol.spec.McpSchema;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.apache.catalina.Context;
import org.apache.catalina.LifecycleException;
import org.apache.catalina.startup.Tomcat;

/** A tool server of the protocol's own library, on loopback. */
final class ToolServer implements AutoCloseable {
    private final Tomcat tomcat = new Tomcat();
    private final McpStatelessSyncServer server;

    ToolServer(Path folder) throws LifecycleException {
        HttpServletStatelessServerTransport transport =
                HttpServletStatelessServerTransport.builder().build();
        server = McpServer.sync(transport)
                .serverInfo("kit store", "1")
                .capabilities(McpSchema.ServerCapabilities.builder().tools(true).build())
                .build();
        tomcat.setBaseDir(folder.toString());
        tomcat.setPort(0);
        tomcat.getConnector().setProperty("address", "127.0.0.1");
        Context context = tomcat.addContext("", folder.toString());
        Tomcat.addServlet(context, "mcp", transport).setAsyncSupported(true);
        context.addServletMappingDecoded("/mcp/*", "mcp");
        tomcat.start();
    }

    URI url() {
        return URI.create("http://127.0.0.1:" + tomcat.getConnector().getLocalPort() + "/mcp");
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
