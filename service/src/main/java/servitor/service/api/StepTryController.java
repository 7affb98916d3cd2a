package servitor.service.api;

import java.time.Clock;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.json.Json;
import servitor.core.mandate.Verdict;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.RunInput;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import servitor.core.run.RunState;
import servitor.core.run.Situation;
import servitor.core.run.Situation.CaseView;
import servitor.core.run.Situation.Requester;
import servitor.core.run.StepTry;
import servitor.core.run.StepTry.Came;
import servitor.core.run.StepTry.Meant;
import servitor.core.run.StepTry.Trouble;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.dispatch.StepAsk;
import servitor.service.editions.Drafts;
import servitor.service.editions.Editions;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunStore;
import servitor.service.runs.WhatIf;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What an agent is told at a step, and what it would do there: on a case, or on a text that somebody types in; by the edition in force, or by
 * one's own draft. No tool is called, and nothing is kept on the case.
 */
@RestController
@RequestMapping("/api/agents/{name}")
class StepTryController {
    private static final int LONGEST_TEXT = 20_000;
    private static final String NOBODY = "try";

    private final Editions editions;
    private final Drafts drafts;
    private final CaseStore cases;
    private final RunStore runs;
    private final StepAsk ask;
    private final WhatIf whatIf;
    private final Clock clock;
    private final ViewMapper describe;

    StepTryController(
            Editions editions,
            Drafts drafts,
            CaseStore cases,
            RunStore runs,
            StepAsk ask,
            WhatIf whatIf,
            Clock clock,
            ViewMapper describe) {
        this.editions = editions;
        this.drafts = drafts;
        this.cases = cases;
        this.runs = runs;
        this.ask = ask;
        this.whatIf = whatIf;
        this.clock = clock;
        this.describe = describe;
    }

    /**
     * What is tried.
     *
     * @param page where; null for the agent's first page that asks a model
     * @param step where on the page; null for its first step that asks a model
     * @param caseId the case it is about, with what its last run of the page knows; null for one that is typed in
     * @param run an earlier run of the page, with what it knew; null for none
     * @param facts known in addition, by the names that steps save them under
     * @param draft whether one's own draft counts instead of the edition in force
     */
    record Wanted(
            @Nullable String page,
            @Nullable String step,
            @Nullable String caseId,
            @Nullable String run,
            @Nullable String subject,
            @Nullable String text,
            @Nullable String language,
            @Nullable Map<String, JsonNode> fields,
            @Nullable Map<String, JsonNode> facts,
            @Nullable Boolean draft) {}

    record PartView(String from, String text, int tokens) {}

    record ToolView(String name, String description, JsonNode inputs, int tokens) {}

    record TroubleView(String problem, String detail) {}

    /**
     * What a model is told.
     *
     * @param parts in the order in which they are told
     * @param tools those it may call
     * @param trouble why it isn't asked at all; null when it is
     */
    record Told(
            String model,
            int layout,
            int tokens,
            List<PartView> parts,
            List<ToolView> tools,
            @Nullable TroubleView trouble) {}

    /**
     * A call it would make.
     *
     * @param verdict what the gate would say; {@code deny} for what wouldn't even come to it
     */
    record CallView(String tool, JsonNode inputs, String verdict, String reason, List<String> of) {}

    /**
     * What came of a try.
     *
     * @param answer what the model said; null when it wanted tools to be called, or said nothing
     * @param saved what the step would save of it
     * @param trouble the problem that the step would take its way for
     */
    record Tried(
            Told told,
            @Nullable JsonNode answer,
            @Nullable JsonNode saved,
            List<CallView> calls,
            @Nullable TroubleView trouble,
            int tokens) {}

    /** What a model would be told, part by part; it isn't asked. */
    @PostMapping(value = "/prompt", consumes = MediaType.APPLICATION_JSON_VALUE)
    Told prompt(Person person, @PathVariable String name, @RequestBody Wanted wanted) {
        Access.READ_HANDBOOKS.require(person);
        Edition edition = edition(person, wanted);
        Agent agent = agent(edition, name);
        if (wanted.page() == null && wanted.step() == null && wanted.run() == null) {
            List<PartView> parts = PromptLayout.of(edition.handbook().house(), agent).standing().stream()
                    .map(StepTryController::view)
                    .toList();
            return new Told(agent.model(), PromptLayout.NUMBER, tokens(parts, List.of()), parts, List.of(), null);
        }
        return told(agent, entered(person, edition, agent, wanted).tried());
    }

    /** What the model says to it, and what that would come to. */
    @PostMapping(value = "/try", consumes = MediaType.APPLICATION_JSON_VALUE)
    Tried tryOut(Person person, @PathVariable String name, @RequestBody Wanted wanted) throws InterruptedException {
        Access.WRITE_HANDBOOKS.require(person);
        Edition edition = edition(person, wanted);
        Agent agent = agent(edition, name);
        Entered entered = entered(person, edition, agent, wanted);
        StepTry tried = entered.tried();
        Told told = told(agent, tried);
        Optional<Prompt> prompt = tried.prompt();
        if (prompt.isEmpty()) {
            return new Tried(told, null, null, List.of(), told.trouble(), 0);
        }
        String at = entered.page() + ", " + entered.step();
        RunInput said = ask.ask(edition, agent, at, prompt.get(), tried.question(), person.id());
        if (said instanceof ModelCalled called) {
            List<CallView> calls = new ArrayList<>();
            tried.meant(called).forEach(meant -> calls.add(call(edition, entered.situation(), meant)));
            return new Tried(told, null, null, calls, null, called.tokens());
        }
        Came came = tried.came(said);
        TroubleView trouble = view(came.trouble());
        return said instanceof ModelAnswered answered
                ? new Tried(told, answered.answer(), came.saved(), List.of(), trouble, answered.tokens())
                : new Tried(told, null, null, List.of(), trouble, ((ModelFailed) said).tokens());
    }

    private CallView call(Edition edition, Situation situation, Meant meant) {
        if (meant.call() == null) {
            return new CallView(
                    meant.wanted().tool(),
                    meant.wanted().args(),
                    "deny",
                    meant.trouble() == null ? "" : meant.trouble().detail(),
                    List.of());
        }
        Verdict verdict = whatIf.verdict(edition, meant.call(), situation);
        return new CallView(
                meant.wanted().tool(),
                meant.call().args(),
                verdict.decision().word(),
                verdict.reason(),
                verdict.of().stream().sorted().map(describe::whom).toList());
    }

    private Edition edition(Person person, Wanted wanted) {
        if (!Boolean.TRUE.equals(wanted.draft())) {
            return editions.current().orElseThrow(() -> new NotFound("edition", "1"));
        }
        Access.WRITE_HANDBOOKS.require(person);
        return drafts.edition(person.id());
    }

    private static Agent agent(Edition edition, String name) {
        Agent agent = edition.handbook().agents().get(name);
        if (agent == null) {
            throw new NotFound("agent", name);
        }
        return agent;
    }

    private record Entered(String page, String step, StepTry tried, Situation situation) {}

    private Entered entered(Person person, Edition edition, Agent agent, Wanted wanted) {
        RunRow earlier = wanted.run() == null ? null : run(person, wanted.run());
        Runbook page = page(edition, agent, earlier == null ? wanted.page() : earlier.page());
        String step = wanted.step() == null ? firstStep(page).orElseThrow().address() : wanted.step();
        Map<String, JsonNode> facts = wanted.facts() == null ? Map.of() : wanted.facts();
        String caseId = wanted.caseId();
        Situation situation;
        RunState run = RunState.ready(NOBODY, NOBODY, edition.number(), page);
        if (earlier != null) {
            situation = whatIf.situation(earlier.caseId());
            run = state(earlier);
        } else if (caseId == null) {
            situation = typed(person, page, wanted);
        } else {
            CaseRow row = seen(person, caseId).orElseThrow(() -> new NotFound("case", caseId));
            situation = whatIf.situation(row.id());
            run = runs.ofCase(row.id()).stream()
                    .filter(one -> one.page().equals(page.name()))
                    .reduce((former, later) -> later)
                    .map(StepTryController::state)
                    .orElse(run);
        }
        return new Entered(
                page.name(), titled(page, step), StepTry.at(edition, run, situation, step, facts), situation);
    }

    private Optional<CaseRow> seen(Person person, String caseId) {
        return cases.find(caseId).filter(person::seesAsStaff);
    }

    private RunRow run(Person person, String id) {
        return runs.find(id)
                .filter(row -> seen(person, row.caseId()).isPresent())
                .orElseThrow(() -> new NotFound("run", id));
    }

    /** The page that is named, or the agent's first that asks a model. */
    private static Runbook page(Edition edition, Agent agent, @Nullable String name) {
        return edition.handbook().runbooks().values().stream()
                .filter(page -> page.agent().equals(agent.name())
                        && (name == null || page.name().equals(name))
                        && firstStep(page).isPresent())
                .min(Comparator.comparing(Runbook::name))
                .orElseThrow(() -> new IllegalArgumentException(
                        name == null
                                ? "‘" + agent.name() + "’ works no page that asks a model."
                                : "‘" + agent.name() + "’ works no page ‘" + name + "’ that asks a model."));
    }

    private static String titled(Runbook page, String step) {
        return page.step(Step.address(step)).map(Step::title).orElse(step);
    }

    private static Optional<Step> firstStep(Runbook page) {
        return page.steps().stream().filter(StepTry::canBeTried).findFirst();
    }

    private static RunState state(RunRow row) {
        return Json.read(row.state(), RunState.class);
    }

    /** A case as somebody types it in, as if they had signed in and asked. */
    private Situation typed(Person person, Runbook page, Wanted wanted) {
        String text = wanted.text() == null ? "" : wanted.text();
        if (text.length() > LONGEST_TEXT) {
            throw new IllegalArgumentException("‘text’ has up to " + LONGEST_TEXT + " characters.");
        }
        ObjectNode fields = Json.object();
        if (wanted.fields() != null) {
            wanted.fields().forEach(fields::set);
        }
        CaseView view = new CaseView(
                NOBODY,
                page.startsOn().stream().findFirst().orElse(""),
                page.desk(),
                wanted.subject() == null ? "" : wanted.subject(),
                text,
                wanted.language() == null ? "en" : wanted.language(),
                fields,
                Json.mapper().createArrayNode(),
                Json.mapper().createArrayNode(),
                "normal",
                "note",
                "working");
        Requester requester = new Requester(
                person.id(), person.name(), person.account(), "", Set.copyOf(person.groups()), "signed-in");
        return new Situation(clock.instant(), view, requester, person.id());
    }

    private static Told told(Agent agent, StepTry tried) {
        Optional<Prompt> prompt = tried.prompt();
        if (prompt.isEmpty()) {
            TroubleView trouble = tried.trouble()
                    .map(StepTryController::view)
                    .orElse(new TroubleView("invalid", "the step asks no model with what is known"));
            return new Told(agent.model(), PromptLayout.NUMBER, 0, List.of(), List.of(), trouble);
        }
        List<PartView> parts =
                prompt.get().parts().stream().map(StepTryController::view).toList();
        List<ToolView> tools = prompt.get().tools().stream()
                .map(tool -> new ToolView(
                        tool.name(),
                        tool.description(),
                        tool.inputs(),
                        Prompt.tokens(Json.write(tool).length())))
                .toList();
        return new Told(prompt.get().model(), prompt.get().layout(), tokens(parts, tools), parts, tools, null);
    }

    private static int tokens(List<PartView> parts, List<ToolView> tools) {
        return parts.stream().mapToInt(PartView::tokens).sum()
                + tools.stream().mapToInt(ToolView::tokens).sum();
    }

    private static PartView view(Prompt.Part part) {
        return new PartView(part.from().word(), part.text(), part.tokens());
    }

    private static @Nullable TroubleView view(@Nullable Trouble trouble) {
        return trouble == null ? null : new TroubleView(trouble.name(), trouble.detail());
    }
}
