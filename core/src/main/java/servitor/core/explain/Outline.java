package servitor.core.explain;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.VerbForm;
import servitor.core.handbook.check.Scopes;
import servitor.core.shape.Shape;

/**
 * The names a writer can use: what an editor offers for completion.
 *
 * @param steps addresses of the page's steps
 * @param tools the inputs of each tool
 * @param verbs the keys that may stand in a block, by its verb
 * @param problems what every step can meet
 * @param fields the fields of each value in scope, by its path; the names themselves are under the empty path
 */
public record Outline(
        List<String> steps,
        Map<String, List<String>> tools,
        List<String> groups,
        List<String> desks,
        List<String> agents,
        List<String> kinds,
        List<String> pages,
        Map<String, List<String>> verbs,
        List<String> problems,
        Map<String, List<String>> fields) {
    private static final int DEEPEST = 4;
    private static final Map<String, List<String>> VERBS = keysByVerb();

    private static Map<String, List<String>> keysByVerb() {
        Map<String, List<String>> verbs = new LinkedHashMap<>();
        for (VerbForm form : VerbForm.values()) {
            verbs.put(form.word(), form.keys().subList(1, form.keys().size()));
        }
        return verbs;
    }

    /** The names for one page, or for a file that is none. */
    public static Outline of(Handbook handbook, @Nullable Runbook page) {
        Map<String, List<String>> tools = new TreeMap<>();
        handbook.tools()
                .values()
                .forEach(tool -> tools.put(
                        tool.name(), List.copyOf(tool.given().path("properties").propertyNames())));
        return new Outline(
                page == null
                        ? List.of()
                        : page.steps().stream().map(Step::address).toList(),
                tools,
                sorted(handbook.groups().keySet()),
                sorted(handbook.desks().keySet()),
                sorted(handbook.agents().keySet()),
                sorted(handbook.kinds().keySet()),
                sorted(handbook.runbooks().keySet()),
                VERBS,
                Problem.words(),
                page == null ? Map.of() : fields(handbook, page));
    }

    private static List<String> sorted(java.util.Collection<String> names) {
        return new ArrayList<>(new TreeSet<>(names));
    }

    private static Map<String, List<String>> fields(Handbook handbook, Runbook page) {
        Scopes scopes = new Scopes(handbook);
        Map<String, Shape> names = new LinkedHashMap<>();
        page.steps().forEach(step -> scopes.at(page, step).ifPresent(names::putAll));
        Map<String, List<String>> fields = new TreeMap<>();
        fields.put("", sorted(names.keySet()));
        names.forEach((name, shape) -> gather(name, shape, fields, 0));
        return fields;
    }

    private static void gather(String path, Shape shape, Map<String, List<String>> fields, int depth) {
        if (depth < DEEPEST
                && shape instanceof Shape.Fields map
                && !map.fields().isEmpty()) {
            fields.put(path, List.copyOf(map.fields().keySet()));
            map.fields().forEach((name, field) -> gather(path + "." + name, field.shape(), fields, depth + 1));
        }
    }
}
