package servitor.service.dispatch;

import java.util.Optional;
import org.springframework.stereotype.Service;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Outcome;
import servitor.core.engine.Stop;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Edition;
import servitor.core.handbook.House;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.RunInput;
import servitor.core.run.RunInput.ModelFailed;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ServitorSettings;
import servitor.service.ledger.Writer;
import servitor.service.runs.Stops;
import tools.jackson.databind.node.ObjectNode;

/** A model asked by a person who tries a step out: by the same gateway, with an entry on the house's trail before anything is sent. */
@Service
public class StepAsk {
    private final ModelGateway models;
    private final Stops stops;
    private final Writer writer;
    private final ServitorSettings settings;

    StepAsk(ModelGateway models, Stops stops, Writer writer, ServitorSettings settings) {
        this.models = models;
        this.stops = stops;
        this.writer = writer;
        this.settings = settings;
    }

    /**
     * What the model says to a prompt, once.
     *
     * @param id what the answer is for
     * @param at the page and step it is for, in words for the trail
     */
    public RunInput ask(Edition edition, Agent agent, String at, Prompt prompt, String id, String person)
            throws InterruptedException {
        House house = edition.handbook().house();
        ObjectNode entry = Json.object()
                .put("agent", agent.name())
                .put("at", at)
                .put("model", prompt.model())
                .put("prompt", prompt.digest());
        return ask(house, prompt, id, agent.name(), TrailWord.STEP_TRIED, entry, person);
    }

    /** What a model says to a text, once. */
    public RunInput word(House house, String model, String text, String person) throws InterruptedException {
        Prompt prompt = PromptLayout.word(model, text);
        ObjectNode entry = Json.object().put("model", model).put("prompt", prompt.digest());
        return ask(house, prompt, "try", "", TrailWord.MODEL_TRIED, entry, person);
    }

    private RunInput ask(
            House house, Prompt prompt, String id, String agent, TrailWord what, ObjectNode entry, String person)
            throws InterruptedException {
        Optional<Stop> held = held(house, prompt.model(), agent);
        if (held.isPresent()) {
            return new ModelFailed(id, Problem.REFUSED, held.get().words(), 0);
        }
        writer.write(tx -> {
            tx.trail("", "", new TrailEvent(TrailEvent.person(person), what, "", entry));
            return null;
        });
        return input(
                models.ask(house, prompt, picture -> Optional.empty(), id, Deadline.in(settings.longestCall())), id);
    }

    private Optional<Stop> held(House house, String model, String agent) {
        House.Model declared = house.models().get(model);
        return stops.all().stream()
                .filter(stop -> stop.what() == Stop.What.AGENT && stop.name().equals(agent)
                        || stop.what() == Stop.What.CONNECTION
                                && declared != null
                                && stop.name().equals(declared.connection()))
                .findFirst();
    }

    private static RunInput input(Outcome outcome, String id) {
        if (outcome instanceof Outcome.WithTranscript with) {
            return input(with.outcome(), id);
        } else if (outcome instanceof Outcome.TryAgain again) {
            return new ModelFailed(id, again.problem(), again.detail(), 0);
        }
        return ((Outcome.Done) outcome).input();
    }
}
