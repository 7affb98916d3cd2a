package servitor.core.rehearsal;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.engine.Outcome;
import servitor.core.engine.Reply;
import servitor.core.engine.Work;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.ModelSays;
import servitor.core.handbook.Rehearsal.Paper;
import servitor.core.handbook.Rehearsal.ToolSays;
import servitor.core.handbook.Telling;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.mandate.ProposedCall;
import servitor.core.prompt.Prompt;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** The scripted world outside: what tools, models and documents say to the work of a run. It reaches nothing. */
final class ScriptedWorld {
    private final Handbook handbook;
    private final Script script;
    private final Opens opens;
    private @Nullable Reasking reasking;
    private final List<Paper> papers;

    /** Opens a case for another; that is the one thing the house does by itself. */
    interface Opens {
        Reply open(Command.CallTool call, RunState run);
    }

    ScriptedWorld(Handbook handbook, Script script, List<Paper> papers, Opens opens) {
        this.handbook = handbook;
        this.script = script;
        this.papers = new ArrayList<>(papers);
        this.opens = opens;
    }

    /**
     * What was said.
     *
     * @param outcome null when the script says nothing of it, or that nothing comes
     * @param took how long it took
     * @param fault why nothing was said, in words; empty when something was, or nothing comes
     */
    record Said(@Nullable Outcome outcome, Duration took, String fault) {
        static Said now(Outcome outcome) {
            return new Said(outcome, Duration.ZERO, "");
        }

        static final Said NEVER = nothing("");

        /** Whether no answer comes while anybody waits for it. */
        boolean never() {
            return outcome == null && fault.isEmpty();
        }

        static Said nothing(String fault) {
            return new Said(null, Duration.ZERO, fault);
        }
    }

    /** A document has come. */
    void add(Paper paper) {
        papers.add(paper);
    }

    /** The documents as pages see them in their case, in the order in which they came. */
    ArrayNode documents() {
        ArrayNode documents = Json.mapper().createArrayNode();
        for (int i = 0; i < papers.size(); i++) {
            documents.add(seen(i));
        }
        return documents;
    }

    private static String documentId(int index) {
        return "D-" + (index + 1);
    }

    /** A document as pages see it in their case. */
    private ObjectNode seen(int index) {
        Paper paper = papers.get(index);
        ReadDocument read = paper.read();
        ObjectNode seen = Json.object()
                .put("id", documentId(index))
                .put("name", paper.name())
                .put("type", paper.type())
                .put("size", read.text().length())
                .put("outcome", read.outcome().word())
                .put("pages", read.pages().size())
                .put("text", read.markedText())
                .put("whole", true);
        return paper.tables().isEmpty() ? seen : seen.set("tables", read.tablesOfCase());
    }

    /** What it says to a piece of work of a run. */
    Said to(Work work, RunState run) {
        Command command = work.command();
        if (command instanceof Command.SetTimer) {
            return Said.now(new Outcome.Done(new RunInput.TimeUp(work.id())));
        } else if (command instanceof Command.ReadDocument read) {
            return Said.now(new Outcome.Done(document(read)));
        } else if (command instanceof Command.AskModel ask) {
            return ofModel(ask, run);
        } else if (command instanceof Command.CallTool call) {
            return ofTool(call, run);
        }
        throw new IllegalStateException(
                "nobody carries out " + command.getClass().getSimpleName());
    }

    private RunInput document(Command.ReadDocument read) {
        for (int i = 0; i < papers.size(); i++) {
            if (documentId(i).equals(read.document())) {
                return new RunInput.DocumentRead(
                        read.id(),
                        read.document(),
                        papers.get(i).name(),
                        papers.get(i).read());
            }
        }
        return new RunInput.DocumentRead(
                read.id(),
                read.document(),
                read.document(),
                ReadDocument.nothing(ReadOutcome.NOT_READ, "", "the rehearsal has no such document"));
    }

    /** Whether it is known what comes of a call that people make by hand. */
    boolean knowsByHand(ProposedCall call) {
        return script.answers(call) || Telling.tells(call.tool());
    }

    /** What comes of a call that people make by hand: what the script says of the call itself. */
    Rehearsal.Result byHand(ProposedCall call) {
        return script.toCall(call).map(ToolSays::result).orElseGet(() -> new Rehearsal.Gives(Json.object()));
    }

    private Said ofTool(Command.CallTool call, RunState run) {
        Optional<ToolSays> says = script.toCall(call.call());
        Tool tool = handbook.tool(call.call().tool());
        if (says.isEmpty()) {
            if (tool.name().equals(Opening.OPEN)) {
                return Said.now(Outcome.of(tool, call.id(), call.call().args(), opens.open(call, run)));
            }
            if (Telling.tells(tool.name()) || tool.name().equals(Telling.FIND_MAIL)) {
                return Said.now(Outcome.of(
                        tool,
                        call.id(),
                        call.call().args(),
                        new Reply.Answered(200, Script.ofTheHouse(handbook, call.call()))));
            }
            return Said.nothing("at ‘" + title(run, handbook) + "’ it calls ‘" + tool.name() + "’ with "
                    + Json.write(call.call().args()) + ", and the rehearsal has no answer to that");
        }
        Rehearsal.Result result = says.get().result();
        return result instanceof Rehearsal.Silent
                ? Said.NEVER
                : new Said(ofTool(call, tool, result), says.get().after(), "");
    }

    private static Outcome ofTool(Command.CallTool call, Tool tool, Rehearsal.Result result) {
        if (result instanceof Rehearsal.Fails fails) {
            return new Outcome.Done(new RunInput.ToolFailed(call.id(), fails.problem(), fails.detail()));
        }
        Reply reply = result instanceof Rehearsal.Doubt doubt
                ? new Reply.Unknown(doubt.detail(), false)
                : new Reply.Answered(200, ((Rehearsal.Gives) result).value());
        return Outcome.of(tool, call.id(), call.call().args(), reply);
    }

    /** The heading of the step that a run is at. */
    static String title(RunState run, Handbook handbook) {
        return handbook.page(run.page())
                .step(run.step())
                .map(step -> step.title())
                .orElse(run.step());
    }

    /** Has models asked again where they are told what they weren't. */
    void reask(@Nullable Reasking now) {
        reasking = now;
    }

    private Said ofModel(Command.AskModel ask, RunState run) {
        Optional<ModelSays> says = script.toModel(run.step());
        if (reasking != null && !reasking.knows(ask.prompt())) {
            return reasking.ask(
                            ask.id(), ask.prompt(), handbook.page(run.page()).agent(), title(run, handbook))
                    .map(input -> Said.now(new Outcome.Done(input)))
                    .orElseGet(() -> Said.nothing("no more models may be asked"));
        }
        if (says.isEmpty()) {
            return Said.nothing(
                    "at ‘" + title(run, handbook) + "’ it asks a model, and the rehearsal has no answer to that");
        }
        Duration took = says.get().after();
        int tokens = says.get().tokens();
        Rehearsal.Result result = says.get().result();
        if (result instanceof Rehearsal.Silent) {
            return Said.NEVER;
        } else if (result instanceof Rehearsal.Fails fails) {
            return new Said(
                    new Outcome.Done(
                            new RunInput.ModelFailed(ask.id(), problem(fails.problem()), fails.detail(), tokens)),
                    took,
                    "");
        } else if (result instanceof Rehearsal.Calls calls) {
            List<Prompt.Wanted> wanted = new ArrayList<>();
            calls.calls()
                    .forEach(call -> wanted.add(
                            new Prompt.Wanted(ask.id() + "-" + (wanted.size() + 1), call.tool(), call.with())));
            return new Said(
                    new Outcome.Done(new RunInput.ModelCalled(ask.id(), "rehearsed", wanted, tokens)), took, "");
        }
        JsonNode schema = ask.prompt().contract().schema();
        JsonNode answer = whole(schema, ((Rehearsal.Gives) result).value());
        List<String> violations = Schemas.violations(schema, answer);
        if (!violations.isEmpty()) {
            return Said.nothing("the answer of " + says.get().words() + " isn't one that a model may give there: "
                    + String.join("; ", violations));
        }
        return new Said(new Outcome.Done(new RunInput.ModelAnswered(ask.id(), "rehearsed", answer, tokens)), took, "");
    }

    /** What every answer of a model has, and rehearsals needn't say. */
    private static JsonNode whole(JsonNode schema, JsonNode given) {
        ObjectNode answer = given.isObject() ? (ObjectNode) given.deepCopy() : Json.object();
        if (schema.path("properties").has("reason") && !answer.has("reason")) {
            answer.put("reason", "as rehearsed");
        }
        if (schema.path("properties").has("sure") && !answer.has("sure")) {
            answer.put("sure", 1.0);
        }
        if (schema.path("properties")
                        .path(Verb.Pursue.DONE)
                        .path("type")
                        .asString("")
                        .equals("boolean")
                && !answer.has(Verb.Pursue.DONE)) {
            answer.put(Verb.Pursue.DONE, true);
        }
        if (schema.path("properties").has("plan") && answer.path("plan").isArray()) {
            answer.path("plan").forEach(line -> {
                if (line instanceof ObjectNode one) {
                    planned(one);
                }
            });
        }
        return answer;
    }

    /** A line of a plan that fixes nothing and is meant once, unless it says so. */
    private static void planned(ObjectNode line) {
        if (!line.has("with")) {
            line.putArray("with");
        }
        if (!line.has("at-most")) {
            line.put("at-most", 1);
        }
    }

    private static Problem problem(String word) {
        return Arrays.stream(Problem.values())
                .filter(one -> one.word().equals(word))
                .findFirst()
                .orElse(Problem.UNAVAILABLE);
    }
}
