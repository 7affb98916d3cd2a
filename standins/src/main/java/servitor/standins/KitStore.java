package servitor.standins;

import io.modelcontextprotocol.server.McpServer;
import io.modelcontextprotocol.server.McpStatelessServerFeatures.SyncToolSpecification;
import io.modelcontextprotocol.server.McpStatelessSyncServer;
import io.modelcontextprotocol.server.transport.HttpServletStatelessServerTransport;
import io.modelcontextprotocol.spec.McpSchema;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.apache.catalina.Context;
import org.apache.catalina.LifecycleException;
import org.apache.catalina.startup.Tomcat;

/** The kit store: a tool server that finds kit and supplies it, once for each key. */
public final class KitStore implements AutoCloseable {
    private static final List<Map<String, Object>> KIT = List.of(
            Map.of("item", "K-40", "name", "Ticket scanner, splash-proof", "price", 310.0, "left", 6),
            Map.of("item", "K-41", "name", "Ticket scanner, for the office", "price", 190.0, "left", 12),
            Map.of("item", "K-52", "name", "Deck radio", "price", 145.0, "left", 9),
            Map.of("item", "K-60", "name", "Laptop for the ticket office", "price", 890.0, "left", 3),
            Map.of("item", "K-77", "name", "Foul-weather jacket", "price", 120.0, "left", 30));

    private final Tomcat tomcat = new Tomcat();
    private final McpStatelessSyncServer server;
    private final Map<String, Map<String, Object>> supplied = new ConcurrentHashMap<>();

    KitStore(int port, Path folder) {
        try {
            HttpServletStatelessServerTransport transport =
                    HttpServletStatelessServerTransport.builder().build();
            server = McpServer.sync(transport)
                    .serverInfo("Skerry Line kit store", "1")
                    .capabilities(
                            McpSchema.ServerCapabilities.builder().tools(false).build())
                    .tools(find(), limit(), supply())
                    .build();
            Path base = Files.createDirectories(folder.resolve("kit-store"));
            tomcat.setBaseDir(base.toString());
            tomcat.setPort(port);
            tomcat.getConnector().setProperty("address", "127.0.0.1");
            Context context = tomcat.addContext("", base.toString());
            Tomcat.addServlet(context, "tools", transport).setAsyncSupported(true);
            context.addServletMappingDecoded("/mcp/*", "tools");
            tomcat.start();
        } catch (LifecycleException | IOException e) {
            throw new IllegalStateException("the stand-in kit store can't be started", e);
        }
    }

    private static Map<String, Object> object(Map<String, String> types) {
        Map<String, Object> properties = new LinkedHashMap<>();
        types.forEach((name, type) -> properties.put(name, Map.of("type", type)));
        return Map.of("type", "object", "properties", properties, "required", List.copyOf(types.keySet()));
    }

    private SyncToolSpecification find() {
        Map<String, String> kit = new LinkedHashMap<>();
        kit.put("item", "string");
        kit.put("name", "string");
        kit.put("price", "number");
        kit.put("left", "integer");
        return tool(
                "find_kit",
                "Finds kit in the store by a word of its name, with price and how many are left.",
                object(Map.of("word", "string")),
                Map.of(
                        "type", "object",
                        "properties", Map.of("kit", Map.of("type", "array", "items", object(kit))),
                        "required", List.of("kit")),
                args -> {
                    String word = String.valueOf(args.get("word")).toLowerCase(java.util.Locale.ROOT);
                    return Map.of(
                            "kit",
                            KIT.stream()
                                    .filter(one -> String.valueOf(one.get("name"))
                                            .toLowerCase(java.util.Locale.ROOT)
                                            .contains(word))
                                    .toList());
                });
    }

    private static SyncToolSpecification limit() {
        Map<String, String> answer = new LinkedHashMap<>();
        answer.put("title", "string");
        answer.put("limit", "number");
        return tool(
                "price_limit",
                "Says how much may be spent on kit for somebody with a title, in EUR.",
                object(Map.of("title", "string")),
                object(answer),
                args -> {
                    String title = String.valueOf(args.get("title"));
                    return Map.of(
                            "title",
                            title,
                            "limit",
                            title.matches("(?i).*(lead|manager|chief|master).*") ? 1_000.0 : 400.0);
                });
    }

    private SyncToolSpecification supply() {
        Map<String, String> answer = new LinkedHashMap<>();
        answer.put("delivery", "string");
        answer.put("item", "string");
        answer.put("account", "string");
        Map<String, String> inputs = new LinkedHashMap<>();
        inputs.put("item", "string");
        inputs.put("account", "string");
        return tool(
                "supply_kit",
                "Sends one item of kit to an employee by their account.",
                object(inputs),
                object(answer),
                args -> {
                    String item = String.valueOf(args.get("item"));
                    if (KIT.stream()
                            .noneMatch(one ->
                                    Objects.requireNonNull(one.get("item")).equals(item))) {
                        throw new IllegalArgumentException("there is no item " + item);
                    }
                    String delivery = "D-" + (700 + supplied.size());
                    Map<String, Object> sent =
                            Map.of("delivery", delivery, "item", item, "account", String.valueOf(args.get("account")));
                    supplied.put(delivery, sent);
                    return sent;
                });
    }

    private static SyncToolSpecification tool(
            String name,
            String description,
            Map<String, Object> inputs,
            Map<String, Object> outputs,
            Function<Map<String, Object>, Map<String, Object>> does) {
        McpSchema.Tool tool = McpSchema.Tool.builder()
                .name(name)
                .description(description)
                .inputSchema(inputs)
                .outputSchema(outputs)
                .build();
        return new SyncToolSpecification(tool, (context, request) -> {
            try {
                return McpSchema.CallToolResult.builder()
                        .structuredContent(does.apply(request.arguments()))
                        .content(List.of())
                        .build();
            } catch (IllegalArgumentException e) {
                return McpSchema.CallToolResult.builder()
                        .isError(true)
                        .content(List.of(
                                McpSchema.TextContent.builder(e.getMessage()).build()))
                        .build();
            }
        });
    }

    public URI url() {
        return URI.create("http://127.0.0.1:" + tomcat.getConnector().getLocalPort() + "/mcp");
    }

    /** What has been sent out, by delivery. */
    public Map<String, Map<String, Object>> supplied() {
        return Map.copyOf(supplied);
    }

    @Override
    public void close() {
        server.close();
        try {
            tomcat.stop();
            tomcat.destroy();
        } catch (LifecycleException e) {
            // it goes with the process
        }
    }
}
