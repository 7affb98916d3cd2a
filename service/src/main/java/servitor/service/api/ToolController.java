package servitor.service.api;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Tool;
import servitor.core.handbook.read.ToolProposal;
import servitor.core.json.Json;
import servitor.service.connections.Connections;
import servitor.service.dispatch.ToolTry;
import servitor.service.editions.Editions;
import servitor.service.people.Access;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** The tools of the current edition, trying one that only reads, and proposing others. */
@RestController
@RequestMapping("/api/tools")
class ToolController {
    private final Editions editions;
    private final Connections connections;
    private final ToolTry tries;

    ToolController(Editions editions, Connections connections, ToolTry tries) {
        this.connections = connections;
        this.editions = editions;
        this.tries = tries;
    }

    record ToolView(
            String name,
            String description,
            String effect,
            boolean personal,
            String connection,
            String carriedOut,
            JsonNode inputs,
            List<JsonNode> examples) {}

    @GetMapping
    List<ToolView> tools(Person person) {
        Access.TRY_TOOLS.require(person);
        return editions.current().stream()
                .flatMap(edition -> edition.handbook().tools().values().stream())
                .sorted(java.util.Comparator.comparing(Tool::name))
                .map(tool -> new ToolView(
                        tool.name(),
                        tool.description(),
                        tool.effect().word(),
                        tool.personal(),
                        tool.binding().connection(),
                        tool.binding().getClass().getSimpleName(),
                        tool.given(),
                        tool.examples()))
                .toList();
    }

    /** Calls a tool that only reads, and nothing personal. What came of it is told as an agent would be told. */
    @PostMapping("/{name}/try")
    ToolTry.Tried tryOut(Person person, @PathVariable String name, @RequestBody JsonNode args)
            throws InterruptedException {
        Access.TRY_TOOLS.require(person);
        Tool tool = editions.current()
                .map(edition -> edition.handbook().tools().get(name))
                .orElseThrow(() -> new NotFound("tool", name));
        if (tool.effect().acts() || tool.personal()) {
            throw new NotAllowed("Only tools that change nothing and read nothing personal are tried out; ‘" + name
                    + "’ is called by runs, which are judged.");
        }
        return tries.call(tool, args.isObject() ? args : Json.object(), person.id());
    }

    /**
     * What is proposed from.
     *
     * @param openapi an OpenAPI 3 description; null for what the tool server behind the connection offers
     * @param only the operations that are wanted in the file; null for all
     */
    record Source(
            String name,
            String connection,
            @Nullable String openapi,
            @Nullable List<String> only) {}

    record OfferedView(String id, String tool, String effect, String description) {}

    record ProposalView(List<OfferedView> offered, Map<String, String> files, List<String> notes) {}

    /** A file of tools as it could be; nothing is kept. */
    @PostMapping("/proposal")
    ProposalView propose(Person person, @RequestBody Source body) throws InterruptedException {
        Access.TRY_TOOLS.require(person);
        String name = String.valueOf(body.name());
        String connection = String.valueOf(body.connection());
        ToolProposal proposal = body.openapi() != null
                ? ToolProposal.ofOpenApi(name, connection, body.openapi(), body.only())
                : ToolProposal.ofServer(
                        name,
                        connection,
                        Json.of(connections
                                .remoteTools(connection)
                                .orElseThrow(() -> new NotFound("connection", connection))),
                        body.only());
        return new ProposalView(
                proposal.offered().stream()
                        .map(one -> new OfferedView(
                                one.id(), one.tool(), one.effect().word(), one.description()))
                        .toList(),
                proposal.files(),
                proposal.notes());
    }
}
