package servitor.service.api;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.service.dispatch.ToolTry;
import servitor.service.editions.Editions;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import servitor.service.people.Role;
import tools.jackson.databind.JsonNode;

/** The tools of the current edition, and trying one that only reads. */
@RestController
@RequestMapping("/api/tools")
class ToolController {
    private final Editions editions;
    private final ToolTry tries;

    ToolController(Editions editions, ToolTry tries) {
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
        engineer(person);
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
        engineer(person);
        Tool tool = editions.current()
                .map(edition -> edition.handbook().tools().get(name))
                .orElseThrow(() -> new NotFound("tool", name));
        if (tool.effect().acts() || tool.personal()) {
            throw new NotAllowed("Only tools that change nothing and read nothing personal are tried out; ‘" + name
                    + "’ is called by runs, which are judged.");
        }
        return tries.call(tool, args.isObject() ? args : Json.object(), person.id());
    }

    private static void engineer(Person person) {
        if (!person.is(Role.ENGINEER)) {
            throw new NotAllowed("Tools are an engineer's work.");
        }
    }
}
