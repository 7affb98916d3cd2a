package servitor.core.handbook.check;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Place;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.CallOf;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;
import servitor.core.json.Schemas;

/** What a rehearsal names must be there, and what it has tools answer must be what they declare. */
final class RehearsalRule {
    private final Handbook handbook;
    private final Findings findings;
    private final Map<String, String> headings;

    RehearsalRule(Handbook handbook, Findings findings) {
        this.handbook = handbook;
        this.findings = findings;
        this.headings = handbook.runbooks().values().stream()
                .map(Runbook::steps)
                .flatMap(List::stream)
                .collect(Collectors.toMap(Step::address, Step::title, (one, other) -> one));
    }

    void check(Rehearsal rehearsal) {
        findings.unknown(
                Code.UNKNOWN_KIND,
                rehearsal.about().kind(),
                handbook.kinds().keySet(),
                rehearsal.places().of("case.kind"));
        String page = rehearsal.about().page();
        if (page != null) {
            findings.unknown(
                    Code.UNKNOWN_PAGE,
                    page,
                    handbook.runbooks().keySet(),
                    rehearsal.places().of("case.page"));
        } else if (handbook.kinds().containsKey(rehearsal.about().kind())
                && handbook.startedBy(rehearsal.about().kind()).isEmpty()) {
            findings.error(
                    rehearsal.places().of("case.kind"),
                    Code.REHEARSAL,
                    "No page starts on a case of the kind ‘" + rehearsal.about().kind() + "’.",
                    "Say with ‘page’ which one is started.");
        }
        rehearsal.cues().forEach(this::cue);
        Rehearsal.Must must = rehearsal.must();
        must.steps().forEach(step -> heading(step, rehearsal.places().of("must.steps")));
        must.calls().forEach(this::call);
        must.never().forEach(tool -> tool(tool, rehearsal.places().of("must.never")));
        must.verdicts().keySet().forEach(tool -> tool(tool, rehearsal.places().of("must.verdicts")));
    }

    private void cue(Cue cue) {
        if (cue instanceof Rehearsal.ToolSays says) {
            tool(says.tool(), says.place());
            Tool tool = handbook.tools().get(says.tool());
            if (tool != null && says.result() instanceof Rehearsal.Gives gives) {
                List<String> violations = Schemas.violations(tool.answers(), gives.value());
                if (!violations.isEmpty()) {
                    findings.error(
                            says.place(),
                            Code.REHEARSAL,
                            "This isn't what ‘" + tool.name() + "’ answers: " + String.join("; ", violations) + ".",
                            "Give it as the tool's ‘outputs’ say.");
                }
            }
        } else if (cue instanceof Rehearsal.ModelSays says) {
            heading(says.step(), says.place());
        } else if (cue instanceof Rehearsal.PeopleSay says) {
            heading(says.step(), says.place());
        } else if (cue instanceof Rehearsal.Unasked unasked) {
            heading(unasked.at(), unasked.place());
        }
    }

    private void call(CallOf call) {
        tool(call.tool(), call.place());
    }

    private void tool(String name, Place place) {
        Set<String> known = handbook.tools().keySet();
        findings.unknown(Code.UNKNOWN_TOOL, name, known, place);
    }

    private void heading(String step, Place place) {
        if (!step.isEmpty() && !headings.containsKey(Step.address(step))) {
            // no error: the play says what comes of it, and people may publish despite that
            findings.warning(
                    place,
                    Code.REHEARSAL,
                    "No page has a heading ‘" + step + "’.",
                    Suggest.remedy(step, headings.values()));
        }
    }
}
