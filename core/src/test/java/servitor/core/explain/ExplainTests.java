package servitor.core.explain;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.check.CheckedHandbook;

class ExplainTests {
    private final Handbook handbook = DemoHandbook.edition(DemoHandbook.files()).handbook();
    private final Runbook refund = handbook.runbooks().get("cancelled-sailing-refund");

    @Test
    void aPageIsToldInPlainWords() {
        Explanation explanation = Explainer.explain(handbook, refund);
        assertThat(explanation.paragraph())
                .contains("starts when a case ‘Refund of a fare’ is opened")
                .contains("People are asked at ‘Check the wording’")
                .contains("Something outside is changed at ‘Pay’")
                .contains("within 2 days");
        assertThat(explanation.steps()).hasSize(refund.steps().size());
        assertThat(explanation.steps().get(2).words())
                .contains("Changes something outside with fares.pay-refund")
                .contains("as far as the mandate of purser allows")
                .containsIgnoringCase("declined: ‘write a refusal’");
    }

    @Test
    void aDrawingHoldsEveryStepAndMarksWhatMatters() {
        Drawing drawing = Drawing.of(handbook, refund);
        assertThat(drawing.rows()).hasSize(refund.steps().size());
        Drawing.Row pay = drawing.rows().get(2);
        assertThat(pay.acts()).isTrue();
        assertThat(pay.exits()).anyMatch(exit -> exit.on().equals("declined") && exit.to() == 4);
        assertThat(drawing.rows().get(3).model()).isTrue();
        assertThat(drawing.rows().get(5).people()).isTrue();
        assertThat(drawing.rows().get(7).ends()).isTrue();
    }

    @Test
    void linesThatCollideTakeTheirOwnLanes() {
        Drawing drawing = Drawing.of(handbook, handbook.runbooks().get("lost-property"));
        for (int i = 0; i < drawing.rows().size(); i++) {
            for (Drawing.Exit one : drawing.rows().get(i).exits()) {
                for (int j = 0; j < drawing.rows().size(); j++) {
                    for (Drawing.Exit other : drawing.rows().get(j).exits()) {
                        boolean both = one.lane() >= 0 && one.lane() == other.lane() && one.to() != other.to();
                        boolean overlap = Math.min(i, one.to()) <= Math.max(j, other.to())
                                && Math.min(j, other.to()) <= Math.max(i, one.to());
                        assertThat(both && overlap).as(one + " and " + other).isFalse();
                    }
                }
            }
        }
    }

    @Test
    void theThreeFormsNameTheSameSteps() {
        Drawing drawing = Drawing.of(handbook, refund);
        for (Runbook page : java.util.List.of(refund)) {
            page.steps().forEach(step -> {
                assertThat(SvgDrawing.of(drawing)).contains("data-step=\"" + step.address() + "\"");
                assertThat(TextDrawing.mermaid(drawing)).contains(step.title());
                assertThat(TextDrawing.dot(drawing)).contains(step.title());
            });
        }
        assertThat(TextDrawing.mermaid(drawing)).startsWith("flowchart TD").contains("-.->|\"declined\"| s4");
        assertThat(TextDrawing.dot(drawing)).contains("s2 -> s4 [label=\"declined\", style=dashed]");
    }

    @Test
    void anOutlineOffersWhatIsInScope() {
        Outline outline = Outline.of(handbook, refund);
        assertThat(outline.fields().get("")).contains("booking", "case", "requester");
        assertThat(outline.fields().get("booking.sailing")).contains("state", "ship");
        assertThat(outline.tools().get("fares.pay-refund")).containsExactly("reference", "amount", "reason");
        assertThat(outline.steps()).contains("pay");
    }

    @Test
    void whatNoRehearsalTouchesIsSetApart() {
        Handbook handbook = CheckedHandbook.of(DemoHandbook.files()).handbook();
        Runbook page = handbook.page("cancelled-sailing-refund");
        Drawing drawing = Drawing.of(handbook, page);
        Marks marks = new Marks(
                java.util.Set.of("pay"), java.util.Set.of(new Marks.Way("find the booking", "not-found")), "left out");
        assertThat(SvgDrawing.of(drawing)).doesNotContain("◌", "left out");
        assertThat(SvgDrawing.of(drawing, marks)).contains("◌ not-found", "left out");
        assertThat(SvgDrawing.of(drawing, marks).split("stroke-dasharray").length)
                .isGreaterThan(SvgDrawing.of(drawing).split("stroke-dasharray").length);
    }
}
