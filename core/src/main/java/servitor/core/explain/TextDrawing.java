package servitor.core.explain;

import servitor.core.explain.Drawing.Exit;
import servitor.core.explain.Drawing.Row;

/** A drawing in the text forms that drawing tools read: Mermaid flowcharts and the DOT language of Graphviz. */
public final class TextDrawing {
    private TextDrawing() {}

    /** As a Mermaid flowchart. */
    public static String mermaid(Drawing drawing) {
        StringBuilder out = new StringBuilder("flowchart TD\n");
        for (int i = 0; i < drawing.rows().size(); i++) {
            Row row = drawing.rows().get(i);
            String[] shape = row.ends() ? new String[] {"([", "])"} : new String[] {"[", "]"};
            out.append("  s")
                    .append(i)
                    .append(shape[0])
                    .append(quoted(label(row), "#quot;"))
                    .append(shape[1])
                    .append('\n');
        }
        boolean[] ends = ends(drawing);
        out.append(ends[0] ? "  people([\"people\"])\n" : "").append(ends[1] ? "  stop([\"stop\"])\n" : "");
        each(
                drawing,
                (from, to, on, problem) -> out.append("  ")
                        .append(from)
                        .append(problem ? " -.->" : " -->")
                        .append(on.isEmpty() ? "" : "|" + quoted(on, "#quot;") + "|")
                        .append(' ')
                        .append(to)
                        .append('\n'));
        return out.toString();
    }

    /** In the DOT language. */
    public static String dot(Drawing drawing) {
        StringBuilder out =
                new StringBuilder("digraph page {\n  rankdir=TB;\n  node [shape=box, fontname=\"sans-serif\"];\n");
        for (int i = 0; i < drawing.rows().size(); i++) {
            Row row = drawing.rows().get(i);
            out.append("  s")
                    .append(i)
                    .append(" [label=")
                    .append(quoted(label(row), "\\\""))
                    .append(row.ends() ? ", style=rounded" : "")
                    .append(row.people() ? ", penwidth=2" : "")
                    .append("];\n");
        }
        boolean[] ends = ends(drawing);
        out.append(ends[0] ? "  people [style=rounded];\n" : "").append(ends[1] ? "  stop [style=rounded];\n" : "");
        each(
                drawing,
                (from, to, on, problem) -> out.append("  ")
                        .append(from)
                        .append(" -> ")
                        .append(to)
                        .append(" [label=")
                        .append(quoted(on, "\\\""))
                        .append(problem ? ", style=dashed" : "")
                        .append("];\n"));
        return out.append("}\n").toString();
    }

    private interface Line {
        void draw(String from, String to, String on, boolean problem);
    }

    private static void each(Drawing drawing, Line line) {
        for (int i = 0; i < drawing.rows().size(); i++) {
            Row row = drawing.rows().get(i);
            int below = i + 1;
            if (row.flowsOn() && row.exits().stream().noneMatch(exit -> exit.to() == below)) {
                line.draw("s" + i, "s" + below, "", false);
            }
            for (Exit exit : row.exits()) {
                String to = exit.to() == Exit.PEOPLE ? "people" : exit.to() == Exit.STOP ? "stop" : "s" + exit.to();
                line.draw("s" + i, to, exit.on(), exit.problem());
            }
        }
    }

    /** Whether some way leads to people, and whether some way stops. */
    private static boolean[] ends(Drawing drawing) {
        boolean[] found = {false, false};
        drawing.rows()
                .forEach(row -> row.exits().forEach(exit -> {
                    found[0] |= exit.to() == Exit.PEOPLE;
                    found[1] |= exit.to() == Exit.STOP;
                }));
        return found;
    }

    private static String label(Row row) {
        String marks =
                (row.people() ? " · people" : "") + (row.model() ? " · model" : "") + (row.acts() ? " · acts" : "");
        return row.title() + " (" + row.verb() + marks + ")";
    }

    private static String quoted(String text, String quote) {
        return "\"" + text.replace("\\", "/").replace("\n", " ").replace("\"", quote) + "\"";
    }
}
