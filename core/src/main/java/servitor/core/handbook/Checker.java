package servitor.core.handbook;

import java.util.Collection;
import java.util.List;
import servitor.core.expression.Path;
import servitor.core.mandate.Decision;
import servitor.core.mandate.Grant;
import servitor.core.mandate.Mandate;

/** Checks what no single file can say: that names across the handbook fit together. */
final class Checker {
    private static final List<String> IN_MANDATES = List.of(
            "args",
            "case",
            "requester",
            "agent",
            "run",
            "now",
            servitor.core.expression.Expression.SOURCES,
            servitor.core.expression.Expression.ORIGINS);

    private final Handbook handbook;
    private final Findings findings;

    Checker(Handbook handbook, Findings findings) {
        this.handbook = handbook;
        this.findings = findings;
    }

    void check() {
        handbook.kinds()
                .values()
                .forEach(kind -> known("desk", kind.desk(), handbook.desks().keySet(), kind.place()));
        handbook.agents().values().forEach(this::agent);
        handbook.mandates().values().forEach(this::mandate);
        handbook.runbooks().values().forEach(page -> new RunbookChecker(handbook, page, findings).check());
        startedTwice();
    }

    private void startedTwice() {
        for (String kind : handbook.kinds().keySet()) {
            List<Runbook> pages = handbook.runbooks().values().stream()
                    .filter(page -> page.startsOn().contains(kind))
                    .sorted(java.util.Comparator.comparing(Runbook::name))
                    .toList();
            if (pages.size() > 1) {
                findings.error(
                        pages.get(1).place(),
                        "started-twice",
                        "‘" + pages.get(0).name() + "’ already starts on a case of kind ‘" + kind + "’.",
                        "Let one page start and follow the other.");
            }
        }
    }

    private void agent(Agent agent) {
        known("desk", agent.desk(), handbook.desks().keySet(), agent.place());
        known("model", agent.model(), handbook.house().models().keySet(), agent.place());
        if (handbook.mandatesOf(agent.name()).isEmpty()) {
            findings.warning(
                    agent.place(),
                    "no-mandate",
                    "No mandate binds ‘" + agent.name() + "’: every call it makes will be refused.",
                    "Add a file in mandates/ with ‘for: [" + agent.name() + "]’.");
        }
    }

    private void mandate(Mandate mandate) {
        mandate.agents()
                .forEach(agent -> known("agent", agent, handbook.agents().keySet(), mandate.place()));
        if (mandate.ask() != null) {
            known("group", mandate.ask(), handbook.groups().keySet(), mandate.place());
        }
        for (List<Grant> list : List.of(mandate.never(), mandate.grants())) {
            list.forEach(grant -> grant(mandate, grant));
        }
    }

    private void grant(Mandate mandate, Grant grant) {
        for (String pattern : grant.tools()) {
            boolean any = handbook.tools().keySet().stream().anyMatch(tool -> Tool.matches(pattern, tool));
            if (!any && mandate.grants().contains(grant)) {
                known("tool", pattern, handbook.tools().keySet(), mandate.place());
            }
        }
        if (grant.of() != null) {
            known("group", grant.of(), handbook.groups().keySet(), mandate.place());
        } else if (grant.decision() == Decision.ASK && mandate.ask() == null) {
            findings.error(
                    mandate.place(),
                    "nobody-to-ask",
                    "‘" + grant.name() + "’ asks, but names nobody who could answer.",
                    "Add ‘of: <group>’ to the grant or ‘ask: <group>’ to the mandate.");
        }
        if (grant.when() != null) {
            for (Path path : grant.when().paths()) {
                known("name", path.root(), IN_MANDATES, mandate.place());
            }
        }
    }

    private void known(String sort, String name, Collection<String> known, Place place) {
        unknown(findings, sort, name, known, place);
    }

    /** Reports {@code name} when it isn't among {@code known}. */
    static void unknown(Findings findings, String sort, String name, Collection<String> known, Place place) {
        if (!name.isEmpty() && !known.contains(name)) {
            findings.error(
                    place, "unknown-" + sort, "There is no " + sort + " ‘" + name + "’.", Suggest.mend(name, known));
        }
    }
}
