package servitor.cli.command;

import java.io.PrintWriter;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;
import servitor.cli.client.Answers;

/** Which part of a long list is wanted, and what narrows it that all lists share. */
final class Paging {
    @Option(names = "--desk", description = "Only about cases of this desk.")
    private @Nullable String desk;

    @Option(names = "--requester", description = "Only about cases of this person.")
    private @Nullable String requester;

    @Option(names = "--kind", description = "Only about cases of this kind.")
    private @Nullable String kind;

    @Option(names = "--page", description = "Only what this page works or has worked on.")
    private @Nullable String page;

    @Option(names = "--agent", description = "Only what this agent's pages work or have worked on.")
    private @Nullable String agent;

    @Option(names = "--waiting-for", paramLabel = "WORDS", description = "Only about cases that wait for this.")
    private @Nullable String waitingFor;

    @Option(names = "--since", paramLabel = "DAY", description = "From this day on, such as 2026-06-01, or a time.")
    private @Nullable String since;

    @Option(names = "--until", paramLabel = "DAY", description = "Before this day, or time.")
    private @Nullable String until;

    @Option(names = "--limit", defaultValue = "50", description = "How many at most.")
    private int limit;

    @Option(names = "--cursor", description = "Go on where an earlier list ended.")
    private @Nullable String cursor;

    /** The parts of a query, for more to be added. */
    Map<String, Object> query() {
        Map<String, Object> parts = new LinkedHashMap<>();
        parts.put("desk", desk);
        parts.put("requester", requester);
        parts.put("kind", kind);
        parts.put("page", page);
        parts.put("agent", agent);
        parts.put("waiting-for", waitingFor);
        parts.put("since", since);
        parts.put("until", until);
        parts.put("limit", limit);
        parts.put("cursor", cursor);
        return parts;
    }

    /** Says how to go on, where there is more. */
    static void more(PrintWriter out, Answers.Part page) {
        if (page.next() != null) {
            out.println("More with: --cursor " + page.next());
        }
    }
}
