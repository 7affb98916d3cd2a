package servitor.core.handbook.check;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import servitor.core.expression.Expression;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.House;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Limit;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Place;
import servitor.core.handbook.Places;
import servitor.core.handbook.Room;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.VerbForm;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.shape.Shape;

/** Checks what no single file can say: that names and types across the handbook fit together. */
final class Checker {
    private final Handbook handbook;
    private final Findings findings;
    private final Scopes scopes;
    private final ExpressionRule expressions;

    Checker(Handbook handbook, Findings findings) {
        this.handbook = handbook;
        this.findings = findings;
        this.scopes = new Scopes(handbook);
        this.expressions = new ExpressionRule(findings);
    }

    void check() {
        handbook.kinds().values().forEach(this::kind);
        handbook.intake().values().forEach(intake -> IntakeChecker.check(intake, handbook, expressions, findings));
        handbook.rooms().values().forEach(this::room);
        handbook.agents().values().forEach(this::agent);
        handbook.mandates().values().forEach(this::mandate);
        handbook.tools().values().forEach(new ToolChecker(handbook, expressions, findings)::check);
        handbook.runbooks().values().forEach(page -> new RunbookChecker(handbook, page, scopes, findings).check());
        new ReviewFlow(handbook, scopes, findings).check();
        owners();
        startedTwice();
        handbook.runbooks().values().forEach(this::followsItself);
        new OpenRule(handbook, findings).circles();
        handbook.rehearsals().values().forEach(new RehearsalRule(handbook, findings)::check);
    }

    private void kind(Kind kind) {
        findings.unknown(
                Code.UNKNOWN_DESK,
                kind.desk(),
                handbook.desks().keySet(),
                kind.places().of("desk"));
        Set<String> known = new TreeSet<>(handbook.groups().keySet());
        known.addAll(handbook.desks().keySet());
        known.addAll(List.of(Kind.EVERYBODY, Kind.PUBLIC, Kind.STAFF));
        kind.openTo().stream()
                .sorted()
                .forEach(name -> findings.unknown(
                        Code.UNKNOWN_GROUP, name, known, kind.places().of("open-to")));
        if (kind.isPublic() && handbook.letterheadOf(kind.desk()).isEmpty()) {
            findings.error(
                    kind.places().of("open-to"),
                    Code.NO_MAIL,
                    "‘" + kind.title() + "’ is open to the public, who confirm by mail what they ask, and ‘"
                            + kind.desk() + "’ sends no mails.",
                    "Give the desk ‘mail’ in desks.yaml, or write ‘everybody’.");
        }
        documents(kind);
        if (kind.openTo().isEmpty()) {
            findings.hint(
                    kind.places().top(),
                    Code.NOBODY_IS_OFFERED,
                    "Only people of the desk ‘" + kind.desk() + "’ can open ‘" + kind.title() + "’.",
                    "Say who else is offered it, as in ‘open-to: [everybody]’; groups, desks, ‘staff’ and ‘public’ can stand there, too.");
        }
    }

    /** When a document is required must be told by the case alone. */
    private void documents(Kind kind) {
        Map<String, Shape> scope = Map.of("case", scopes.caseOf(List.of(kind.name())));
        kind.documents().forEach((name, document) -> {
            if (document.when() != null) {
                expressions.condition(
                        document.when(), kind.places().of("documents." + name + ".when"), scope, List.of());
            }
        });
    }

    private void room(Room room) {
        if (room.body() != null) {
            expressions.template(
                    room.body(),
                    part -> room.places().of("body" + (part.isEmpty() ? "" : "." + part)),
                    Map.of(Room.MESSAGE, Room.OF_MESSAGE),
                    List.of());
        }
    }

    /** Whoever grants a tool needs a word of its desk; where nobody has said which that is, everybody's. */
    private void owners() {
        Set<String> files = new HashSet<>();
        for (Tool tool : handbook.tools().values()) {
            Place file = Place.top(tool.place().file());
            if (tool.desk().equals(Tool.HOUSE) || !files.add(file.file())) {
                continue;
            }
            findings.unknown(Code.UNKNOWN_DESK, tool.desk(), handbook.desks().keySet(), file);
            if (tool.desk().isEmpty()) {
                String granted = handbook.mandates().values().stream()
                        .filter(mandate -> mandate.grants().stream().anyMatch(grant -> grant.covers(tool)))
                        .flatMap(mandate -> mandate.agents().stream())
                        .flatMap(agent -> Optional.ofNullable(handbook.agents().get(agent)).map(Agent::desk).stream())
                        .min(Comparator.naturalOrder())
                        .orElse(Tool.HOUSE);
                findings.hint(
                        file,
                        Code.NO_OWNER,
                        "The tools of this file belong to no desk, so that an engineer of every desk has to agree to a change or a grant of them.",
                        "Write ‘desk: " + granted + "’ at its top, or ‘desk: house’ if they are everybody's.");
            }
        }
    }

    private void startedTwice() {
        for (String kind : handbook.kinds().keySet()) {
            List<Runbook> pages = handbook.runbooks().values().stream()
                    .filter(page -> page.startsOn().contains(kind))
                    .sorted(Comparator.comparing(Runbook::name))
                    .toList();
            if (pages.size() > 1) {
                findings.error(
                        pages.get(1).placeOf("starts"),
                        Code.STARTED_TWICE,
                        "‘" + pages.get(0).name() + "’ already starts on a case of kind ‘" + kind + "’.",
                        "Let one page start and follow the other.");
            }
        }
    }

    private void followsItself(Runbook page) {
        Set<String> seen = new HashSet<>();
        Deque<String> open = new ArrayDeque<>(followedBy(page));
        while (!open.isEmpty()) {
            String name = open.pop();
            if (name.equals(page.name())) {
                findings.error(
                        page.place(),
                        Code.FOLLOWS_ITSELF,
                        "‘" + page.title() + "’ leads back to itself through the pages it follows.",
                        "Take one of the ‘follow’ steps out, or make it a loop within one page.");
                return;
            }
            Runbook followed = handbook.runbooks().get(name);
            if (followed != null && seen.add(name)) {
                open.addAll(followedBy(followed));
            }
        }
    }

    private Set<String> followedBy(Runbook page) {
        Set<String> names = new LinkedHashSet<>();
        for (Step step : page.steps()) {
            step.verb().followed().ifPresent(followed -> names.add(followed.page()));
            step.verb().tools().forEach(offer -> asTool(offer.tool()).ifPresent(names::add));
        }
        return names;
    }

    /** The page that a tool is, if it is one. */
    private Optional<String> asTool(String name) {
        Tool tool = handbook.tools().get(name);
        return tool != null && tool.binding() instanceof Binding.PageTool page
                ? Optional.of(page.page())
                : Optional.empty();
    }

    /** A sample is for a step of a page that the agent works; one that isn't tries nothing, and stands in nobody's way. */
    private void sample(Agent agent, Agent.Sample sample, String key) {
        Runbook page = handbook.runbooks().get(sample.page());
        if (page == null || !page.agent().equals(agent.name())) {
            findings.warning(
                    agent.places().of(key + ".page"),
                    Code.UNKNOWN_PAGE,
                    "‘" + agent.name() + "’ works no page ‘" + sample.page() + "’, so the sample is tried nowhere.",
                    "Name a page of this agent's, or take the sample out.");
        } else if (page.steps().stream()
                .noneMatch(step -> step.title().equalsIgnoreCase(sample.step()) && step.is(VerbForm.Trait.THINKS))) {
            findings.warning(
                    agent.places().of(key + ".step"),
                    Code.UNKNOWN_STEP,
                    "‘" + page.name() + "’ has no step ‘" + sample.step() + "’ that asks a model.",
                    "Name one by its heading, or take the sample out.");
        }
    }

    private void agent(Agent agent) {
        findings.unknown(
                Code.UNKNOWN_DESK,
                agent.desk(),
                handbook.desks().keySet(),
                agent.places().of("desk"));
        findings.unknown(
                Code.UNKNOWN_MODEL,
                agent.model(),
                handbook.house().models().keySet(),
                agent.places().of("model"));
        House.Model model = handbook.house().models().get(agent.model());
        if (agent.allowance().cost() != null && model != null && model.price() == null) {
            findings.error(
                    agent.places().of("allowance.cost-a-day"),
                    Code.PRICE,
                    "Nobody says what ‘" + agent.model()
                            + "’ costs, so this limit would keep it from being asked at all.",
                    "Write its ‘price’ in handbook.yaml, or a limit on tokens.");
        }
        for (int i = 0; i < agent.samples().size(); i++) {
            sample(agent, agent.samples().get(i), "samples." + i);
        }
        if (handbook.mandatesOf(agent.name()).isEmpty()) {
            findings.warning(
                    agent.places().top(),
                    Code.NO_MANDATE,
                    "No mandate binds ‘" + agent.name() + "’: every call it makes will be refused.",
                    "Add a file in mandates/ with ‘for: [" + agent.name() + "]’.");
        }
    }

    private void mandate(Mandate mandate) {
        Collection<String> groups = handbook.groups().keySet();
        mandate.agents()
                .forEach(agent -> findings.unknown(
                        Code.UNKNOWN_AGENT,
                        agent,
                        handbook.agents().keySet(),
                        mandate.places().of("for")));
        if (mandate.ask() != null) {
            findings.unknown(
                    Code.UNKNOWN_GROUP, mandate.ask(), groups, mandate.places().of("ask"));
        }
        for (int i = 0; i < mandate.never().size(); i++) {
            grant(mandate, mandate.never().get(i), "never." + i, groups);
        }
        for (int i = 0; i < mandate.grants().size(); i++) {
            grant(mandate, mandate.grants().get(i), "grants." + i, groups);
        }
    }

    private void grant(Mandate mandate, Grant grant, String key, Collection<String> groups) {
        Places places = mandate.places();
        for (int i = 0; i < grant.tools().size(); i++) {
            String pattern = grant.tools().get(i);
            boolean any = handbook.tools().keySet().stream().anyMatch(tool -> Tool.matches(pattern, tool));
            if (!any && key.startsWith("grants")) {
                findings.unknown(Code.UNKNOWN_TOOL, pattern, handbook.tools().keySet(), places.of(key + ".tools." + i));
            }
        }
        if (grant.of() != null) {
            findings.unknown(Code.UNKNOWN_GROUP, grant.of(), groups, places.of(key + ".of"));
        } else if ((grant.decision() == Decision.ASK || grant.overLimit() == Decision.ASK) && mandate.ask() == null) {
            findings.error(
                    places.of(key),
                    Code.NOBODY_TO_ASK,
                    "‘" + grant.name() + "’ asks, but names nobody who could answer.",
                    "Add ‘of: <group>’ to the grant or ‘ask: <group>’ to the mandate.");
        }
        if (grant.when() != null) {
            counted(grant.when(), mandate, places.of(key + ".when"));
            condition(grant, places.of(key + ".when"));
        }
        for (int i = 0; i < grant.limits().size(); i++) {
            sum(grant, grant.limits().get(i), places.of(key + ".limits." + i + ".sum"));
        }
    }

    /** A condition must be readable for every tool the grant covers. */
    private void condition(Grant grant, Place place) {
        handbook.tools().values().stream()
                .filter(grant::covers)
                .sorted(Comparator.comparing(Tool::name))
                .forEach(tool -> {
                    Map<String, Shape> scope = scopes.inMandate(tool);
                    sourced(Objects.requireNonNull(grant.when()), tool, place);
                    expressions.condition(Objects.requireNonNull(grant.when()), place, scope, List.of());
                });
    }

    /** What a limit adds up must be a number for every tool the grant covers. */
    private void sum(Grant grant, Limit limit, Place place) {
        if (limit.sum() == null) {
            return;
        }
        handbook.tools().values().stream()
                .filter(grant::covers)
                .sorted(Comparator.comparing(Tool::name))
                .forEach(tool -> expressions.number(limit.sum(), place, scopes.inMandate(tool)));
    }

    /** {@code used("...")} names a grant of the same mandate that has a limit. */
    private void counted(Expression when, Mandate mandate, Place place) {
        List<String> limited = mandate.grants().stream()
                .filter(grant -> !grant.limits().isEmpty())
                .map(Grant::name)
                .toList();
        when.paths().stream()
                .filter(path -> path.root().equals(Expression.USED))
                .forEach(path ->
                        findings.unknown(Code.UNKNOWN_NAME, path.fields().get(0), limited, place));
    }

    /** {@code source(args.x)} and {@code origin(args.x)} name an input, too. */
    private void sourced(Expression when, Tool tool, Place place) {
        List<String> inputs = List.copyOf(tool.inputs().path("properties").propertyNames());
        when.paths().stream()
                .filter(path ->
                        path.root().equals(Expression.SOURCES) || path.root().equals(Expression.ORIGINS))
                .forEach(path ->
                        findings.unknown(Code.UNKNOWN_INPUT, path.fields().get(0), inputs, place));
    }

    /** Reports {@code address} when the page has no such step. */
    static void unknownStep(Findings findings, Runbook page, String address, Place place) {
        List<String> known = new ArrayList<>(List.of(Step.HAND_OVER, Step.STOP));
        page.steps().forEach(step -> known.add(step.address()));
        findings.unknown(Code.UNKNOWN_STEP, address, known, place);
    }
}
