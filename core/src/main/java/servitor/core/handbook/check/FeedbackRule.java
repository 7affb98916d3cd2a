package servitor.core.handbook.check;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;

/** Feedback goes back to a draft, and nothing that acts may be done again on the way from there. */
final class FeedbackRule {
    private final Handbook handbook;
    private final Runbook page;
    private final Flow flow;
    private final Findings findings;

    FeedbackRule(Handbook handbook, Runbook page, Flow flow, Findings findings) {
        this.handbook = handbook;
        this.page = page;
        this.flow = flow;
        this.findings = findings;
    }

    void check(Step approval, String edited) {
        List<Step> drafts = page.steps().stream()
                .filter(step ->
                        step.verb() instanceof Draft draft && draft.save().equals(edited))
                .toList();
        if (drafts.isEmpty()) {
            findings.error(
                    approval.placeOf("feedback"),
                    Code.FEEDBACK,
                    "No draft saves ‘" + edited + "’, so feedback has nowhere to go.",
                    "Name in ‘edit’ what a draft saves, or leave ‘feedback’ out.");
        }
        for (Step draft : drafts) {
            for (Step between : page.steps()) {
                if (!between.equals(draft)
                        && !between.equals(approval)
                        && Flow.acts(between, handbook.tools())
                        && leads(draft, between, approval)
                        && leads(between, approval, approval)) {
                    findings.error(
                            approval.placeOf("feedback"),
                            Code.FEEDBACK,
                            "Feedback would lead through ‘" + between.title() + "’ again, which acts.",
                            "Put the acting step before the draft or after the approval.");
                }
            }
        }
    }

    /** Whether a way leads from one step to another that doesn't pass {@code barrier} before. */
    private boolean leads(Step from, Step to, Step barrier) {
        Set<String> seen = new HashSet<>();
        List<Step> open = new ArrayList<>(List.of(from));
        while (!open.isEmpty()) {
            for (Flow.Way way : flow.waysOut(open.remove(open.size() - 1))) {
                if (way.to().equals(to.address())) {
                    return true;
                }
                if (!way.to().equals(barrier.address()) && seen.add(way.to())) {
                    page.step(way.to()).ifPresent(open::add);
                }
            }
        }
        return false;
    }
}
