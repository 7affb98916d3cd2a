package servitor.core.explain;

import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;
import servitor.core.explain.Drawing.Exit;
import servitor.core.explain.Drawing.Row;

/**
 * A drawing as SVG. Colours are variables of the page it stands in, with the paper's own where there are none; every
 * text is written through an XML writer, so nothing in a page can become markup.
 */
public final class SvgDrawing {
    private static final String DASHES = "4 3";
    private static final String APART = "◌ ";
    private static final int LEFT = 14;
    private static final int BOX = 330;
    private static final int LABEL = 205;
    private static final int LANE = 13;
    private static final int LINE = 16;
    private static final int GAP = 11;
    private static final int LEAST = 30;
    private static final String INK = "var(--color-ink, #22292c)";
    private static final String FAINT = "var(--color-faint, #5f665f)";
    private static final String SHEET = "var(--color-sheet, #fdfbf5)";
    private static final String ACCENT = "var(--color-accent, #2c5a5e)";
    private static final String SIGNAL = "var(--color-signal, #a1440b)";

    private final Drawing drawing;
    private final Marks marks;
    private final List<Integer> tops = new ArrayList<>();
    private final StringWriter text = new StringWriter();
    private final XMLStreamWriter xml;

    private SvgDrawing(Drawing drawing, Marks marks) throws XMLStreamException {
        this.drawing = drawing;
        this.marks = marks;
        this.xml = XMLOutputFactory.newFactory().createXMLStreamWriter(text);
    }

    /** The drawing as one {@code svg} element. */
    public static String of(Drawing drawing) {
        return of(drawing, Marks.NONE);
    }

    /** The same with some of it set apart. */
    public static String of(Drawing drawing, Marks marks) {
        try {
            return new SvgDrawing(drawing, marks).write();
        } catch (XMLStreamException e) {
            throw new IllegalStateException("writing into memory failed", e);
        }
    }

    private static int height(Row row) {
        return Math.max(LEAST, 10 + LINE * row.exits().size());
    }

    private String write() throws XMLStreamException {
        int y = 8;
        for (Row row : drawing.rows()) {
            tops.add(y);
            y += height(row) + GAP;
        }
        int width = LEFT + BOX + LABEL + LANE * drawing.lanes() + 16;
        int height = y + 26 + (marks.legend().isEmpty() ? 0 : LINE + 4);
        xml.writeStartElement("svg");
        attributes("xmlns", "http://www.w3.org/2000/svg", "viewBox", "0 0 " + width + " " + height);
        attributes(
                "width", width, "height", height, "role", "img", "aria-label", "The flow of " + clean(drawing.title()));
        attributes("font-family", "Seravek, Ubuntu, Calibri, 'DejaVu Sans', sans-serif", "font-size", 13);
        for (int i = 0; i < drawing.rows().size(); i++) {
            lines(i);
        }
        for (int i = 0; i < drawing.rows().size(); i++) {
            box(i);
        }
        legend(y);
        xml.writeEndElement();
        xml.flush();
        return text.toString();
    }

    private void attributes(Object... pairs) throws XMLStreamException {
        for (int i = 0; i < pairs.length; i += 2) {
            xml.writeAttribute(String.valueOf(pairs[i]), String.valueOf(pairs[i + 1]));
        }
    }

    private void box(int at) throws XMLStreamException {
        Row row = drawing.rows().get(at);
        int top = tops.get(at);
        int height = height(row);
        xml.writeStartElement("g");
        attributes("data-step", clean(row.address()), "data-line", row.line(), "cursor", "pointer");
        xml.writeEmptyElement("rect");
        attributes("x", LEFT, "y", top, "width", BOX, "height", height, "rx", row.ends() ? 15 : 3);
        attributes("fill", SHEET, "stroke", row.people() ? SIGNAL : INK, "stroke-width", row.people() ? 1.6 : 1);
        if (marks.has(row)) {
            attributes("stroke-dasharray", DASHES);
        }
        if (row.acts()) {
            xml.writeEmptyElement("rect");
            attributes("x", LEFT, "y", top, "width", 5, "height", height, "fill", ACCENT);
        }
        write(LEFT + 14, top + height / 2 + 5, shorten(row.title(), 34), marks.has(row) ? FAINT : INK, 600, "start");
        int right = LEFT + BOX - 10;
        write(right - (row.model() ? 20 : 0), top + height / 2 + 4, row.verb(), FAINT, 400, "end");
        if (row.model()) {
            machine(right - 8, top + height / 2);
        }
        xml.writeEndElement();
        if (row.flowsOn()) {
            int x = LEFT + 30;
            path("M" + x + " " + (top + height) + " V" + (top + height + GAP - 4), INK, false);
            arrow(x, top + height + GAP, 0, -1);
        }
    }

    /** The mark of everything a machine wrote: three dots falling. */
    private void machine(int x, int y) throws XMLStreamException {
        for (int i = 0; i < 3; i++) {
            xml.writeEmptyElement("circle");
            attributes("cx", x - 5 + 5 * i, "cy", y - 5 + 5 * i, "r", 1.7, "fill", INK);
        }
    }

    private void lines(int at) throws XMLStreamException {
        Row row = drawing.rows().get(at);
        int from = LEFT + BOX;
        int labels = from + LABEL;
        for (int i = 0; i < row.exits().size(); i++) {
            Exit exit = row.exits().get(i);
            int y = tops.get(at) + 14 + LINE * i;
            String colour = exit.problem() ? FAINT : INK;
            String apart = marks.has(row, exit) ? APART : "";
            String label = apart + shorten(exit.on(), exit.to() < 0 ? 24 : 30);
            write(from + 8, y + 4, label, colour, 400, "start");
            if (exit.to() == at + 1) {
                write(from + 14 + width(label), y + 4, "↓", colour, 400, "start");
            } else if (exit.to() == Exit.PEOPLE || exit.to() == Exit.STOP) {
                write(
                        labels,
                        y + 4,
                        exit.to() == Exit.PEOPLE ? "→ people" : "→ stop",
                        exit.to() == Exit.PEOPLE ? SIGNAL : FAINT,
                        400,
                        "end");
            } else {
                int lane = labels + 8 + LANE * exit.lane();
                int target = tops.get(exit.to()) + 4;
                int start = Math.min(labels, from + 14 + width(label));
                path("M" + start + " " + y + " H" + lane + " V" + target + " H" + (from + 5), colour, exit.problem());
                arrow(from + 1, target, 1, 0);
            }
        }
    }

    private static int width(String label) {
        return (int) (label.length() * 7.3);
    }

    private void path(String d, String colour, boolean dashed) throws XMLStreamException {
        xml.writeEmptyElement("path");
        attributes("d", d, "fill", "none", "stroke", colour, "stroke-width", 1.1);
        if (dashed) {
            attributes("stroke-dasharray", DASHES);
        }
    }

    /** A small arrow head whose tip is at (x, y); (dx, dy) is where its line comes from. */
    private void arrow(int x, int y, int dx, int dy) throws XMLStreamException {
        xml.writeEmptyElement("path");
        int sx = dy == 0 ? 0 : 4;
        int sy = dx == 0 ? 0 : 4;
        attributes(
                "d",
                "M" + x + " " + y + " L" + (x + 6 * dx - sx) + " " + (y + 6 * dy - sy) + " L" + (x + 6 * dx + sx) + " "
                        + (y + 6 * dy + sy) + " Z",
                "fill",
                INK);
    }

    private void legend(int y) throws XMLStreamException {
        int at = y + 10;
        xml.writeEmptyElement("rect");
        attributes("x", LEFT, "y", at - 9, "width", 16, "height", 12, "rx", 3, "fill", "none", "stroke", SIGNAL);
        write(LEFT + 22, at + 1, "people are asked", FAINT, 400, "start");
        machine(LEFT + 148, at - 3);
        write(LEFT + 160, at + 1, "a model judges or writes", FAINT, 400, "start");
        xml.writeEmptyElement("rect");
        attributes("x", LEFT + 326, "y", at - 9, "width", 5, "height", 12, "fill", ACCENT);
        write(LEFT + 338, at + 1, "something outside is changed", FAINT, 400, "start");
        if (!marks.legend().isEmpty()) {
            xml.writeEmptyElement("rect");
            attributes(
                    "x", LEFT, "y", at + LINE - 5, "width", 16, "height", 12, "rx", 3, "fill", "none", "stroke", INK);
            attributes("stroke-dasharray", DASHES);
            write(LEFT + 22, at + LINE + 5, "or " + APART + marks.legend(), FAINT, 400, "start");
        }
    }

    private void write(int x, int y, String words, String colour, int weight, String anchor) throws XMLStreamException {
        xml.writeStartElement("text");
        attributes("x", x, "y", y, "fill", colour, "font-weight", weight, "text-anchor", anchor);
        xml.writeCharacters(clean(words));
        xml.writeEndElement();
    }

    private static String shorten(String words, int most) {
        return words.length() <= most ? words : words.substring(0, most - 1).strip() + "…";
    }

    /** Without the characters that XML 1.0 can't hold (section 2.2) and halves of surrogate pairs. */
    private static String clean(String words) {
        StringBuilder kept = new StringBuilder();
        words.codePoints()
                .filter(c -> c == 9 || c == 10 || c >= 32 && c <= 0xD7FF || c >= 0xE000 && c <= 0xFFFD || c >= 0x10000)
                .forEach(kept::appendCodePoint);
        return kept.toString();
    }
}
