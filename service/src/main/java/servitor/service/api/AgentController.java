package servitor.service.api;

import java.math.BigDecimal;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.engine.ModelAllowances;
import servitor.core.handbook.Agent;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.json.Json;
import servitor.core.mandate.CouldDo;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.core.run.StepTry;
import servitor.service.approvals.ApprovalStore;
import servitor.service.editions.Drafts;
import servitor.service.editions.Editions;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.runs.RunFilter;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunStore;
import servitor.service.runs.UsageStore;
import tools.jackson.databind.JsonNode;

/** Who works here: what each agent is for, what it could do, and what it did lately in the cases that whoever asks may see. */
@RestController
@RequestMapping("/api/agents")
class AgentController {
    private static final Duration LATELY = Duration.ofDays(7);
    private static final int MOST_COUNTED = 500;
    private static final int LAST = 10;

    private final Editions editions;
    private final Drafts drafts;
    private final RunStore runs;
    private final ApprovalStore approvals;
    private final UsageStore usage;
    private final ViewMapper describe;
    private final Clock clock;

    AgentController(
            Editions editions,
            Drafts drafts,
            RunStore runs,
            ApprovalStore approvals,
            UsageStore usage,
            ViewMapper describe,
            Clock clock) {
        this.editions = editions;
        this.drafts = drafts;
        this.runs = runs;
        this.approvals = approvals;
        this.usage = usage;
        this.describe = describe;
        this.clock = clock;
    }

    /**
     * What an agent did in the last seven days.
     *
     * @param runs that began; no more than so many are counted
     * @param settled of those, that left their case resolved or closed
     * @param alone of those, that nobody was asked about
     * @param asked in which people were asked
     * @param refused that ended or stand at a refusal
     * @param troubled that went wrong or were handed over
     * @param tokens that its own models used in them
     * @param cost what its own models cost, in the currency of the house; null where nobody knows
     */
    record Lately(
            int runs,
            int settled,
            int alone,
            int asked,
            int refused,
            int troubled,
            int tokens,
            @Nullable BigDecimal cost,
            String currency) {}

    record AgentSummary(
            String name,
            String title,
            String desk,
            String model,
            String works,
            String job,
            List<String> pages,
            Lately lately,
            @Nullable Today today) {}

    /** What its models have used or reserved since midnight, of what they may; null where there is no limit. */
    record Today(
            @Nullable Integer tokens,
            @Nullable Integer mostTokens,
            @Nullable BigDecimal cost,
            @Nullable BigDecimal mostCost) {}

    /** A step of a model that can be tried. */
    record StepOf(String address, String title, String verb) {}

    record PageOf(String name, String title, List<StepOf> steps) {}

    /** What it could do with a tool, in words. */
    record Can(String tool, String effect, String reach, String words) {}

    record ExampleView(String asked, String output, String why) {}

    record BriefView(
            String job,
            String audience,
            List<String> always,
            List<String> never,
            List<String> writing,
            List<ExampleView> examples) {}

    /** A request that a step is tried on. */
    record SampleView(
            String page, String step, String subject, String text, String language, Map<String, JsonNode> facts) {}

    record AgentView(
            AgentSummary summary,
            String file,
            @Nullable String modelName,
            BriefView brief,
            List<PageOf> pages,
            List<Can> mandate,
            List<SampleView> samples,
            List<RunController.RunSummary> runs) {}

    @GetMapping
    List<AgentSummary> agents(Person person) {
        Access.READ_HANDBOOKS.require(person);
        return editions.current().stream()
                .flatMap(edition -> edition.handbook().agents().values().stream()
                        .sorted(Comparator.comparing(Agent::title))
                        .map(agent -> summary(person, edition.handbook(), agent)))
                .toList();
    }

    @GetMapping("/{name}")
    AgentView agent(Person person, @PathVariable String name, @RequestParam(defaultValue = "false") boolean draft) {
        (draft ? Access.WRITE_HANDBOOKS : Access.READ_HANDBOOKS).require(person);
        Edition edition =
                draft ? drafts.edition(person.id()) : editions.current().orElseThrow(() -> new NotFound("agent", name));
        Agent agent = edition.handbook().agents().get(name);
        if (agent == null) {
            throw new NotFound("agent", name);
        }
        Handbook handbook = edition.handbook();
        return new AgentView(
                summary(person, handbook, agent),
                "agents/" + name + ".yaml",
                handbook.house().models().containsKey(agent.model())
                        ? handbook.house().models().get(agent.model()).name()
                        : null,
                brief(agent),
                pages(handbook, agent).map(AgentController::page).toList(),
                mandate(handbook, agent),
                agent.samples().stream()
                        .map(one -> new SampleView(
                                one.page(), one.step(), one.subject(), one.text(), one.language(), one.facts()))
                        .toList(),
                lately(person, handbook, agent, LAST).stream()
                        .map(describe::runSummary)
                        .toList());
    }

    private static BriefView brief(Agent agent) {
        Agent.Brief brief = agent.brief();
        return new BriefView(
                brief.job().strip(),
                brief.audience().strip(),
                brief.rules().always(),
                brief.rules().never(),
                brief.rules().writing(),
                brief.examples().stream()
                        .map(one -> new ExampleView(one.asked(), one.output(), one.why()))
                        .toList());
    }

    private static Stream<Runbook> pages(Handbook handbook, Agent agent) {
        return handbook.runbooks().values().stream()
                .filter(page -> page.agent().equals(agent.name()))
                .sorted(Comparator.comparing(Runbook::title));
    }

    private static PageOf page(Runbook page) {
        return new PageOf(
                page.name(),
                page.title(),
                page.steps().stream()
                        .filter(StepTry::canBeTried)
                        .map((Step step) -> new StepOf(step.address(), step.title(), step.word()))
                        .toList());
    }

    /** What an agent could do; what it never could isn't told. */
    private List<Can> mandate(Handbook handbook, Agent agent) {
        return CouldDo.table(handbook, Json.of(clock.instant().toString()), usage::alone).stream()
                .filter(cell -> cell.agent().equals(agent.name()) && cell.reach() != CouldDo.Reach.NEVER)
                .map(cell -> cell.calling(describe::whom))
                .map(cell -> new Can(
                        cell.tool(),
                        handbook.tool(cell.tool()).effect().word(),
                        cell.reach().name().toLowerCase(java.util.Locale.ROOT),
                        CouldDo.words(cell)))
                .toList();
    }

    private AgentSummary summary(Person person, Handbook handbook, Agent agent) {
        return new AgentSummary(
                agent.name(),
                agent.title(),
                agent.desk(),
                agent.model(),
                agent.works().word(),
                agent.brief().job().strip(),
                pages(handbook, agent).map(Runbook::title).toList(),
                counted(
                        lately(person, handbook, agent, MOST_COUNTED),
                        handbook.house().currency()),
                today(handbook, agent));
    }

    private @Nullable Today today(Handbook handbook, Agent agent) {
        Integer tokens = agent.allowance().tokens();
        BigDecimal cost = agent.allowance().cost();
        LocalDate day = LocalDate.ofInstant(clock.instant(), handbook.house().timeZone());
        return tokens == null && cost == null
                ? null
                : new Today(
                        tokens == null
                                ? null
                                : usage.alone(ModelAllowances.tokensOf(agent.name(), day))
                                        .intValue(),
                        tokens,
                        cost == null ? null : usage.alone(ModelAllowances.costOf(agent.name(), day)),
                        cost);
    }

    private List<RunRow> lately(Person person, Handbook handbook, Agent agent, int most) {
        ListQuery query = new ListQuery(
                null,
                null,
                null,
                null,
                agent.name(),
                null,
                clock.instant().minus(LATELY).toString(),
                null,
                null,
                null);
        return runs.list(new RunFilter(person.staffDesks(), null, query.about(null, handbook), null, null), most);
    }

    private static int tokens(List<RunRow> rows) {
        return rows.stream()
                .mapToInt(row -> Json.read(row.state(), RunState.class).tokens())
                .sum();
    }

    private Lately counted(List<RunRow> rows, String currency) {
        List<String> ids = rows.stream().map(RunRow::id).toList();
        Set<String> asked = approvals.asked(ids);
        int settled = 0;
        int alone = 0;
        int refused = 0;
        int troubled = 0;
        BigDecimal cost = null;
        for (RunRow row : rows) {
            RunState state = Json.read(row.state(), RunState.class);
            boolean done = CaseState.DONE.contains(state.caseState());
            settled += done ? 1 : 0;
            alone += done && !asked.contains(row.id()) ? 1 : 0;
            refused += state.problem() != null && state.problem().name().equals(Problem.REFUSED.word()) ? 1 : 0;
            troubled += state.status() == RunStatus.FAILED
                            || CaseState.WITH_PEOPLE.word().equals(state.caseState())
                    ? 1
                    : 0;
            BigDecimal own = state.used().cost();
            cost = own == null ? cost : cost == null ? own : cost.add(own);
        }
        int tokens = tokens(rows) - tokens(runs.followedBy(ids)); // a run's own include those of pages it follows
        return new Lately(rows.size(), settled, alone, asked.size(), refused, troubled, tokens, cost, currency);
    }
}
