package servitor.connectors.mcp;

import io.modelcontextprotocol.json.McpJsonDefaults;
import io.modelcontextprotocol.server.McpServer;
import io.modelcontextprotocol.server.McpServerFeatures;
import io.modelcontextprotocol.server.transport.StdioServerTransportProvider;
import io.modelcontextprotocol.spec.McpSchema;
import java.util.Map;

/** A tool server that speaks over its standard input and output; run as a program of its own. */
final class StdioServer {
    private StdioServer() {}

    public static void main(String[] args) {
        McpSchema.Tool tool = McpSchema.Tool.builder()
                .name("greet")
                .description("Greets somebody by name.")
                .inputSchema(Map.of("type", "object", "properties", Map.of("name", Map.of("type", "string"))))
                .build();
        McpServer.sync(new StdioServerTransportProvider(McpJsonDefaults.getMapper()))
                .serverInfo("greeter", "1")
                .capabilities(
                        McpSchema.ServerCapabilities.builder().tools(false).build())
                .tools(McpServerFeatures.SyncToolSpecification.builder()
                        .tool(tool)
                        .callHandler((exchange, request) -> ToolServer.text(
                                "Good day " + request.arguments().get("name")))
                        .build())
                .build();
    }
}
