package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.WayOfWorking;

/** Changes how an agent or a tool works in the text of its file; every other line stays as somebody wrote it. */
public final class WorksText {
    private static final String WORKS = "works:";

    private WorksText() {}

    /**
     * The text with another way of working.
     *
     * @param operation the tool in a file of tools, without the file's name; null in an agent's file
     * @throws IllegalArgumentException when the place can't be found, as the file is written in some other form
     */
    public static String with(String text, @Nullable String operation, WayOfWorking works) {
        List<String> lines = new ArrayList<>(text.lines().toList());
        int above = operation == null ? -1 : headOf(operation, lines);
        int first = firstBelow(above, lines);
        String indent = lines.get(first).substring(0, indent(lines.get(first)));
        for (int at = first; at < lines.size(); at++) {
            String line = lines.get(at);
            if (operation != null && !line.isBlank() && indent(line) < indent.length()) {
                break;
            }
            if (line.startsWith(indent + WORKS)) {
                lines.set(at, indent + WORKS + " " + works.word());
                return String.join("\n", lines) + "\n";
            }
        }
        lines.add(operation == null ? afterTitle(lines) : first, indent + WORKS + " " + works.word());
        return String.join("\n", lines) + "\n";
    }

    private static int headOf(String operation, List<String> lines) {
        Pattern head = Pattern.compile("\\s+" + Pattern.quote(operation) + ":\\s*(#.*)?");
        int tools = lines.indexOf("tools:");
        for (int at = tools + 1; tools >= 0 && at < lines.size(); at++) {
            Matcher matcher = head.matcher(lines.get(at));
            if (matcher.matches()) {
                return at;
            }
        }
        throw otherwise();
    }

    private static int firstBelow(int above, List<String> lines) {
        for (int at = above + 1; at < lines.size(); at++) {
            String line = lines.get(at);
            if (!line.isBlank() && !line.strip().startsWith("#")) {
                if (above >= 0 && indent(line) <= indent(lines.get(above))) {
                    break;
                }
                return at;
            }
        }
        throw otherwise();
    }

    private static int afterTitle(List<String> lines) {
        for (int at = 0; at < lines.size(); at++) {
            if (lines.get(at).startsWith("model:")) {
                return at + 1;
            }
        }
        throw otherwise();
    }

    private static int indent(String line) {
        return line.length() - line.stripLeading().length();
    }

    private static IllegalArgumentException otherwise() {
        return new IllegalArgumentException(
                "The file is written in a form that can't be changed here; write ‘works’ by hand.");
    }
}
