package servitor.service.dispatch;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.connectors.Access;
import servitor.connectors.model.ChatModel;
import servitor.connectors.model.ChatModel.Conversation;
import servitor.connectors.model.ChatModel.Message;
import servitor.connectors.model.ChatModel.Said;
import servitor.core.engine.Outcome;
import servitor.core.engine.Reply;
import servitor.core.handbook.House;
import servitor.core.prompt.Prompt;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import servitor.service.connections.Connections;
import servitor.service.connections.KeyRing;

/** Asks models and holds their answers to the contract: one that breaks it is asked for once more, with what was wrong. */
@Component
class ModelGateway {
    private static final int TRIES = 2;

    private final Connections connections;
    private final ChatModel model = new ChatModel();

    ModelGateway(Connections connections) {
        this.connections = connections;
    }

    Outcome ask(House house, Prompt prompt, String id) throws InterruptedException {
        House.Model declared = house.models().get(prompt.model());
        Optional<Access> access;
        try {
            access = declared == null ? Optional.empty() : connections.access(declared.connection());
        } catch (KeyRing.CannotOpen e) {
            return failed(id, "unavailable", e.getMessage(), 0);
        }
        if (access.isEmpty()) {
            return failed(id, "unavailable", "the connection of the model ‘" + prompt.model() + "’ isn't set up", 0);
        }
        List<Message> after = new ArrayList<>();
        int tokens = 0;
        String wrong = "";
        for (int tried = 0; tried < TRIES; tried++) {
            Said said = model.ask(
                    access.get(),
                    declared.name(),
                    new Conversation(prompt.system(), prompt.user(), prompt.tools(), prompt.exchanges(), after),
                    prompt.contract().schema());
            if (said instanceof ChatModel.Nothing nothing) {
                return nothing(id, nothing.reply(), tokens);
            }
            if (said instanceof ChatModel.Calls calls) {
                return new Outcome.Done(new ModelCalled(id, calls.model(), calls.wanted(), tokens + calls.tokens()));
            }
            String raw;
            if (said instanceof ChatModel.Structured structured) {
                tokens += structured.tokens();
                List<String> violations = prompt.contract().violations(structured.answer());
                if (violations.isEmpty()) {
                    return new Outcome.Done(new ModelAnswered(id, structured.model(), structured.answer(), tokens));
                }
                wrong = String.join("; ", violations);
                raw = structured.raw();
            } else {
                ChatModel.Words words = (ChatModel.Words) said;
                tokens += words.tokens();
                wrong = "it isn't JSON: " + words.why();
                raw = words.raw();
            }
            after.add(new Message("assistant", raw));
            after.add(new Message("user", "Your answer breaks the contract: " + wrong + ". Answer again, keeping it."));
        }
        return failed(id, "invalid", "the model broke the contract twice: " + wrong, tokens);
    }

    private static Outcome nothing(String id, Reply reply, int tokens) {
        if (reply instanceof Reply.NotSent notSent) {
            return new Outcome.TryAgain("unavailable", notSent.detail(), false);
        } else if (reply instanceof Reply.Unknown unknown) {
            return new Outcome.TryAgain(unknown.timedOut() ? "timeout" : "unavailable", unknown.detail(), true);
        } else if (reply instanceof Reply.Failed refused) {
            return refused.status() == 429 || refused.status() >= 500
                    ? new Outcome.TryAgain("unavailable", refused.detail(), true)
                    : failed(id, "invalid", refused.detail(), tokens);
        }
        return failed(id, "invalid", ((Reply.Unreadable) reply).detail(), tokens);
    }

    private static Outcome failed(String id, String problem, String detail, int tokens) {
        return new Outcome.Done(new ModelFailed(id, problem, detail, tokens));
    }
}
