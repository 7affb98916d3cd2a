package servitor.service.api;

import servitor.core.explain.Drawing;
import servitor.core.explain.Explainer;
import servitor.core.explain.Explanation;
import servitor.core.explain.SvgDrawing;
import servitor.core.explain.TextDrawing;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;

/** A page in plain words and as a drawing, in the forms drawing tools read as well. */
record PageView(String name, Explanation explanation, String svg, String mermaid, String dot) {

    static PageView of(Handbook handbook, Runbook page) {
        Drawing drawing = Drawing.of(handbook, page);
        return new PageView(
                page.name(),
                Explainer.explain(handbook, page),
                SvgDrawing.of(drawing),
                TextDrawing.mermaid(drawing),
                TextDrawing.dot(drawing));
    }
}
