package servitor.service.dispatch;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Access;
import servitor.connectors.access.Deadline;
import servitor.connectors.model.ChatModel;
import servitor.connectors.model.ChatModel.Conversation;
import servitor.connectors.model.ChatModel.Message;
import servitor.connectors.model.ChatModel.Said;
import servitor.core.engine.Outcome;
import servitor.core.engine.Reply;
import servitor.core.handbook.House;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import servitor.service.connections.Connections;
import servitor.service.connections.KeyRing;
import servitor.service.runs.Stops;

/** Asks models and holds their answers to the contract: one that breaks it is asked for once more, with what was wrong. */
@Component
class ModelGateway {
    private static final Logger LOG = LoggerFactory.getLogger(ModelGateway.class);
    private static final int TRIES = 2;
    private static final BigDecimal MILLION = BigDecimal.valueOf(1_000_000);
    private static final int COST_DIGITS = 6;
    private static final int LONGEST_KEPT = 20_000;

    private final Connections connections;
    private final Stops stops;
    private final RecordedAnswers recorded;
    private final ChatModel model = new ChatModel();

    ModelGateway(Connections connections, Stops stops, RecordedAnswers recorded) {
        this.connections = connections;
        this.stops = stops;
        this.recorded = recorded;
    }

    /** Gives a page of a document as a picture; empty when it can't be had. */
    interface Pictures {
        Optional<byte[]> of(Prompt.Picture picture);
    }

    /** Asks by {@code deadline}, repairing included; or takes what was recorded of an earlier answer. */
    Outcome ask(House house, Prompt prompt, Pictures pictures, String id, Deadline deadline)
            throws InterruptedException {
        Optional<Outcome> known = recorded.of(prompt, id);
        if (known.isPresent()) {
            return known.get();
        }
        Outcome outcome = askAny(house, prompt, pictures, id, deadline);
        recorded.keep(prompt, outcome);
        return outcome;
    }

    /** Where a model can't be had, the one is asked that stands in for it, and so on. */
    private Outcome askAny(House house, Prompt prompt, Pictures pictures, String id, Deadline deadline)
            throws InterruptedException {
        Set<String> asked = new HashSet<>(Set.of(prompt.model()));
        String name = prompt.model();
        while (true) {
            Optional<String> next = standIn(house, name).filter(other -> !asked.contains(other));
            Deadline own =
                    next.isEmpty() ? deadline : deadline.orIn(deadline.left().dividedBy(2));
            Outcome outcome = ask(house, name, prompt, pictures, id, own);
            if (next.isEmpty() || !isAway(outcome)) {
                return outcome;
            }
            LOG.info("The model ‘{}’ can't be had; ‘{}’ stands in for it.", name, next.get());
            name = next.get();
            asked.add(name);
        }
    }

    /** Who stands in for a model, unless its connection is stopped. */
    private Optional<String> standIn(House house, String name) {
        House.Model declared = house.models().get(name);
        return Optional.ofNullable(declared)
                .map(House.Model::otherwise)
                .filter(other -> house.models().containsKey(other)
                        && !stops.holdsConnection(
                                Objects.requireNonNull(house.models().get(other))
                                        .connection()));
    }

    private static boolean isAway(Outcome outcome) {
        return outcome instanceof Outcome.WithTranscript with
                ? isAway(with.outcome())
                : outcome instanceof Outcome.TryAgain
                        || outcome instanceof Outcome.Done done
                                && done.input() instanceof ModelFailed failed
                                && failed.problem() == Problem.UNAVAILABLE;
    }

    private Outcome ask(House house, String name, Prompt prompt, Pictures pictures, String id, Deadline deadline)
            throws InterruptedException {
        House.Model declared = Objects.requireNonNull(house.models().get(name));
        Optional<Access> access;
        try {
            access = declared == null ? Optional.empty() : connections.access(declared.connection());
        } catch (KeyRing.CannotOpen e) {
            return failed(id, Problem.UNAVAILABLE, String.valueOf(e.getMessage()));
        }
        if (access.isEmpty()) {
            return failed(id, Problem.UNAVAILABLE, "the connection of the model ‘" + name + "’ isn't set up");
        }
        Optional<String> refused = access.get().refused();
        if (refused.isPresent()) {
            return failed(id, Problem.REFUSED, refused.get());
        }
        List<byte[]> seen = prompt.pictures().stream()
                .map(pictures::of)
                .flatMap(Optional::stream)
                .toList();
        if (seen.size() < prompt.pictures().size()) {
            return new Outcome.TryAgain(Problem.UNAVAILABLE, "a page can't be made a picture at the moment", false);
        }
        List<Message> after = new ArrayList<>();
        ChatModel.Usage used = ChatModel.Usage.NONE;
        String wrong = "";
        for (int tried = 0; tried < TRIES; tried++) {
            Said said = model.ask(
                    access.get(),
                    declared.name(),
                    declared.settings(),
                    new Conversation(prompt.system(), prompt.user(), prompt.tools(), prompt.exchanges(), after, seen),
                    prompt.contract().schema(),
                    deadline);
            if (said instanceof ChatModel.Nothing nothing) {
                return with(after, nothing(id, nothing.reply(), used, declared));
            }
            if (said instanceof ChatModel.Declined declined) {
                return with(after, failed(id, Problem.REFUSED, declined.words(), used.and(declined.usage()), declared));
            }
            String raw;
            if (said instanceof ChatModel.Calls calls) {
                used = used.and(calls.usage());
                if (!prompt.tools().isEmpty()) {
                    return with(
                            after,
                            new Outcome.Done(new ModelCalled(
                                    id, used.model(), calls.wanted(), used.tokens(), cost(declared, used))));
                }
                wrong = "it calls tools, and none are offered";
                raw = Json.write(calls.wanted());
            } else if (said instanceof ChatModel.Structured structured) {
                used = used.and(structured.usage());
                List<String> violations = prompt.contract().violations(structured.answer());
                if (violations.isEmpty()) {
                    return with(
                            after,
                            new Outcome.Done(new ModelAnswered(
                                    id,
                                    used.model(),
                                    structured.answer(),
                                    used.tokens(),
                                    used.estimated(),
                                    cost(declared, used))));
                }
                wrong = String.join("; ", violations);
                raw = structured.raw();
            } else {
                ChatModel.Words words = (ChatModel.Words) said;
                used = used.and(words.usage());
                wrong = words.why();
                raw = words.raw();
            }
            after.add(new Message("assistant", raw));
            after.add(new Message("user", "Your answer breaks the contract: " + wrong + ". Answer again, keeping it."));
        }
        return with(after, failed(id, Problem.INVALID, "the model broke the contract twice: " + wrong, used, declared));
    }

    /** An outcome with the answers that broke the contract and what was said about them, if there were any. */
    private static Outcome with(List<Message> after, Outcome outcome) {
        if (after.isEmpty()) {
            return outcome;
        }
        StringBuilder said = new StringBuilder();
        for (Message message : after) {
            String content = message.content();
            said.append(message.role().equals("assistant") ? "< " : "> ")
                    .append(content, 0, Math.min(content.length(), LONGEST_KEPT))
                    .append('\n');
        }
        return new Outcome.WithTranscript(outcome, said.toString());
    }

    private static Outcome nothing(String id, Reply reply, ChatModel.Usage used, House.Model declared) {
        if (reply instanceof Reply.NotSent notSent) {
            return new Outcome.TryAgain(Problem.UNAVAILABLE, notSent.detail(), false);
        } else if (reply instanceof Reply.Unknown unknown) {
            return new Outcome.TryAgain(
                    unknown.timedOut() ? Problem.TIMEOUT : Problem.UNAVAILABLE, unknown.detail(), true);
        } else if (reply instanceof Reply.Failed refused) {
            return refused.status() == 429 || refused.status() >= 500
                    ? new Outcome.TryAgain(Problem.UNAVAILABLE, refused.detail(), true, refused.again())
                    : failed(id, Problem.INVALID, refused.detail(), used, declared);
        }
        Problem problem = reply instanceof Reply.Refused ? Problem.REFUSED : Problem.INVALID;
        return failed(id, problem, reply.detail(), used, declared);
    }

    private static Outcome failed(String id, Problem problem, String detail) {
        return new Outcome.Done(new ModelFailed(id, problem, detail, 0));
    }

    private static Outcome failed(
            String id, Problem problem, String detail, ChatModel.Usage used, House.Model declared) {
        return new Outcome.Done(new ModelFailed(id, problem, detail, used.tokens(), cost(declared, used)));
    }

    /** What tokens cost by the price of a million; null where nobody says. */
    private static @Nullable BigDecimal cost(House.Model declared, ChatModel.Usage used) {
        House.Price price = declared.price();
        return price == null
                ? null
                : price.asked()
                        .multiply(BigDecimal.valueOf(used.asked()))
                        .add(price.answered().multiply(BigDecimal.valueOf(used.answered())))
                        .divide(MILLION, COST_DIGITS, RoundingMode.HALF_UP);
    }
}
