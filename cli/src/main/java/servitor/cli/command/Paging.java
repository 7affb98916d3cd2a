package servitor.cli.command;

import java.io.PrintWriter;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** Which part of a long list is wanted, and what narrows it that all lists share. */
final class Paging {
    @Option(names = "--desk", description = "Only about cases of this desk.")
    private @Nullable String desk;

    @Option(names = "--requester", description = "Only about cases of this person.")
    private @Nullable String requester;

    @Option(names = "--limit", defaultValue = "50", description = "How many at most.")
    private int limit;

    @Option(names = "--cursor", description = "Go on where an earlier list ended.")
    private @Nullable String cursor;

    /** The parts of a query, for more to be added. */
    Map<String, Object> query() {
        Map<String, Object> parts = new LinkedHashMap<>();
        parts.put("desk", desk);
        parts.put("requester", requester);
        parts.put("limit", limit);
        parts.put("cursor", cursor);
        return parts;
    }

    /** Says how to go on, where there is more. */
    static void more(PrintWriter out, JsonNode page) {
        if (page.path("next").isString()) {
            out.println("More with: --cursor " + page.path("next").asString());
        }
    }
}
