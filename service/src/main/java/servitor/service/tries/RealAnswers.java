package servitor.service.tries;

import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import org.springframework.stereotype.Component;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.Judge;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.rehearsal.TryOut.Open;
import servitor.core.rehearsal.TryOut.Sort;
import servitor.core.run.RunInput;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import servitor.service.dispatch.StepAsk;
import servitor.service.dispatch.ToolTry;
import servitor.service.editions.Editions;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Asks tools and models for real while a page is tried. Only what reads, nothing personal, by a tool that is just as in the edition in
 * force, allowed by the mandates of both, for an engineer of the agent's desk; counted, and on the trail. What acts never leaves.
 */
@Component
class RealAnswers {
    private static final int MOST = 50;

    private final Editions editions;
    private final ToolTry toolTry;
    private final StepAsk stepAsk;
    private final Writer writer;

    RealAnswers(Editions editions, ToolTry toolTry, StepAsk stepAsk, Writer writer) {
        this.editions = editions;
        this.toolTry = toolTry;
        this.stepAsk = stepAsk;
        this.writer = writer;
    }

    /** Why something isn't asked for real; empty when it may be. */
    String refused(Person person, Edition draft, TryRow row, Open open) {
        Agent agent = draft.handbook().agents().get(open.agent());
        if (open.sort() != Sort.TOOL && open.sort() != Sort.MODEL) {
            return "it is people, or time, that would answer";
        } else if (row.forReal() >= MOST) {
            return "this try has asked " + MOST + " times already";
        } else if (agent == null || !person.desks().contains(agent.desk())) {
            return "you don't work at the desk of ‘" + open.agent() + "’";
        }
        return open.sort() == Sort.MODEL
                ? ""
                : refused(person, draft.handbook(), Objects.requireNonNull(open.call()), open);
    }

    private String refused(Person person, Handbook draft, ProposedCall call, Open open) {
        Tool tool = draft.tool(call.tool());
        Optional<Edition> current = editions.current();
        Tool inForce = current.map(edition -> edition.handbook().tools().get(tool.name()))
                .orElse(null);
        if (!Access.TRY_TOOLS.allows(person)) {
            return "tools are an engineer's work";
        } else if (tool.effect().acts()) {
            return "it acts; what would be sent is shown here";
        } else if (tool.personal()) {
            return "it reads what is personal";
        } else if (inForce == null || !inForce.sameAs(tool)) {
            return "the edition in force has no such tool just so";
        }
        Verdict verdict = writer.write(tx -> judged(tx, draft, current.get().handbook(), call, open));
        return verdict.decision() == Decision.ALLOW ? "" : "the mandates don't allow it alone: " + verdict.reason();
    }

    private static Verdict judged(
            LedgerTransaction tx, Handbook draft, Handbook inForce, ProposedCall call, Open open) {
        return Judge.stricter(
                Judge.judge(draft, call, open.scope(), tx.store()::alone),
                Judge.judge(inForce, call, open.scope(), tx.store()::alone));
    }

    /** What it says, in the form of a rehearsal's answers. */
    JsonNode of(Person person, Edition draft, TryRow row, Open open) throws InterruptedException {
        return open.sort() == Sort.MODEL ? ofModel(person, draft, open) : ofTool(person, draft.handbook(), row, open);
    }

    private JsonNode ofTool(Person person, Handbook draft, TryRow row, Open open) throws InterruptedException {
        ProposedCall call = Objects.requireNonNull(open.call());
        Tool tool = draft.tool(call.tool());
        Handbook inForce = editions.current().map(Edition::handbook).orElse(draft);
        writer.write(tx -> {
            Verdict verdict = judged(tx, draft, inForce, call, open);
            if (verdict.decision() != Decision.ALLOW) {
                throw new IllegalArgumentException(
                        "The mandates don't allow it alone any more: " + verdict.reason() + ".");
            }
            tx.store().charge("try-" + UUID.randomUUID(), verdict.charges(), true);
            return null;
        });
        ObjectNode args = call.args();
        args.remove(List.copyOf(tool.house().keySet()));
        ToolTry.Tried tried = toolTry.call(tool, args, person.id());
        ObjectNode said = Json.object().put("tool", tool.name());
        said.set("with", args);
        return tried.problem().isEmpty()
                ? said.set("gives", tried.answer())
                : said.put("fails", tried.problem()).put("detail", tried.detail());
    }

    private JsonNode ofModel(Person person, Edition draft, Open open) throws InterruptedException {
        Agent agent = Objects.requireNonNull(draft.handbook().agents().get(open.agent()));
        RunInput said =
                stepAsk.ask(draft, agent, open.step(), Objects.requireNonNull(open.prompt()), open.id(), person.id());
        ObjectNode answer = Json.object().put("model", open.step());
        if (said instanceof ModelAnswered answered) {
            return answer.set("gives", answered.answer());
        } else if (said instanceof ModelCalled called) {
            ArrayNode calls = answer.putArray("calls");
            called.wanted()
                    .forEach(wanted ->
                            calls.addObject().put("tool", wanted.tool()).set("with", wanted.args()));
            return answer;
        }
        ModelFailed failed = (ModelFailed) said;
        return answer.put("fails", failed.problem().word()).put("detail", failed.detail());
    }
}
