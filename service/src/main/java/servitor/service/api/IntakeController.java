package servitor.service.api;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.json.Json;
import servitor.service.intake.Intakes;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** Where outside systems send what becomes a case. */
@RestController
@RequestMapping("/api/intake")
class IntakeController {
    private final Intakes intakes;

    IntakeController(Intakes intakes) {
        this.intakes = intakes;
    }

    record IntakeView(String name, String title, String from, String kind, String desk, JsonNode message) {}

    /** {@code outcome} is {@code opened}, {@code known}, {@code left-out} or {@code tried}. */
    record TakenView(
            String outcome,
            @Nullable String id,
            @Nullable String why,
            @Nullable JsonNode would) {}

    @GetMapping
    List<IntakeView> list(Person person) {
        return intakes.seenBy(person).stream()
                .map(known -> new IntakeView(
                        known.intake().name(),
                        known.intake().title(),
                        known.intake().from(),
                        known.kind().name(),
                        known.kind().desk(),
                        known.intake().message().schema()))
                .toList();
    }

    @PostMapping("/{name}")
    ResponseEntity<TakenView> take(
            Person person,
            @PathVariable String name,
            @RequestBody JsonNode message,
            @RequestParam(name = "try", defaultValue = "false") boolean dry) {
        Intakes.Taken taken = intakes.take(person, name, message, dry).orElseThrow(() -> new NotFound("intake", name));
        if (taken instanceof Intakes.Opened opened) {
            String id = opened.row().id();
            return Made.at(
                    "/api/cases/" + id,
                    opened.isNew(),
                    new TakenView(opened.isNew() ? "opened" : "known", id, null, null));
        } else if (taken instanceof Intakes.LeftOut left) {
            return ResponseEntity.ok(new TakenView("left-out", null, left.why(), null));
        }
        Intakes.Tried tried = (Intakes.Tried) taken;
        var would = Json.object()
                .put("kind", tried.kind())
                .put("requester", tried.requester())
                .put("subject", tried.asked().subject())
                .put("text", tried.asked().text());
        would.set("fields", Json.of(tried.asked().fields()));
        return ResponseEntity.ok(new TakenView("tried", null, null, would));
    }
}
