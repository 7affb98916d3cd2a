package servitor.service.api;

import java.math.BigDecimal;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.House;
import servitor.core.handbook.House.Ability;
import servitor.core.run.RunInput;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelFailed;
import servitor.service.connections.Connections;
import servitor.service.dispatch.StepAsk;
import servitor.service.editions.Editions;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** The models of the house: where they are, what they can do, who works with them; and asking one a word. */
@RestController
@RequestMapping("/api/models")
class ModelController {
    private static final int LONGEST_TEXT = 2_000;

    private final Editions editions;
    private final Connections connections;
    private final StepAsk ask;

    ModelController(Editions editions, Connections connections, StepAsk ask) {
        this.editions = editions;
        this.connections = connections;
        this.ask = ask;
    }

    record PriceView(BigDecimal asked, BigDecimal answered) {}

    /**
     * A model.
     *
     * @param known the name its server knows it by
     * @param ready whether its connection is set up
     * @param agents the titles of those who work with it
     * @param otherwise who stands in for it
     */
    record ModelView(
            String name,
            String connection,
            String known,
            boolean ready,
            int window,
            @Nullable PriceView price,
            List<String> can,
            @Nullable String otherwise,
            List<String> agents) {}

    record Wanted(@Nullable String text) {}

    /**
     * What it said.
     *
     * @param answered the model that answered, as its server calls itself
     * @param problem empty when it answered
     */
    record Said(String text, String answered, int tokens, long millis, String problem, String detail) {}

    @GetMapping
    List<ModelView> models(Person person) {
        Access.READ_HANDBOOKS.require(person);
        List<String> ready = connections.all().stream().map(one -> one.name()).toList();
        return editions.current().stream()
                .map(edition -> edition.handbook())
                .flatMap(handbook -> handbook.house().models().entrySet().stream()
                        .sorted(Map.Entry.comparingByKey())
                        .map(model -> view(handbook, model.getKey(), model.getValue(), ready)))
                .toList();
    }

    private static ModelView view(Handbook handbook, String name, House.Model model, List<String> ready) {
        House.Price price = model.price();
        return new ModelView(
                name,
                model.connection(),
                model.name(),
                ready.contains(model.connection()),
                model.window(),
                price == null ? null : new PriceView(price.asked(), price.answered()),
                model.can().stream().sorted().map(Ability::word).toList(),
                model.otherwise(),
                handbook.agents().values().stream()
                        .filter(agent -> agent.model().equals(name))
                        .map(Agent::title)
                        .sorted(Comparator.naturalOrder())
                        .toList());
    }

    /** Asks it a word, as agents would: through the same gateway, by name. */
    @PostMapping(value = "/{name}/try", consumes = MediaType.APPLICATION_JSON_VALUE)
    Said tryOut(Person person, @PathVariable String name, @RequestBody Wanted wanted) throws InterruptedException {
        Access.WRITE_HANDBOOKS.require(person);
        Handbook handbook = editions.current()
                .map(edition -> edition.handbook())
                .filter(one -> one.house().models().containsKey(name))
                .orElseThrow(() -> new NotFound("model", name));
        String text = wanted.text() == null || wanted.text().isBlank() ? "Say good day." : wanted.text();
        if (text.length() > LONGEST_TEXT) {
            throw new IllegalArgumentException("‘text’ has up to " + LONGEST_TEXT + " characters.");
        }
        long begun = System.nanoTime();
        RunInput said = ask.word(handbook.house(), name, text, person.id());
        long millis = (System.nanoTime() - begun) / 1_000_000;
        if (said instanceof ModelAnswered answered) {
            return new Said(
                    answered.answer().path("text").asString(""), answered.model(), answered.tokens(), millis, "", "");
        }
        ModelFailed failed = (ModelFailed) said;
        return new Said("", "", failed.tokens(), millis, failed.problem().word(), failed.detail());
    }
}
