package servitor.core.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.handbook.Problem;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;

/** Whom a page asks. */
final class Whom {
    private Whom() {}

    /**
     * Who is meant: names of groups and desks as they stand, people by {@code person:id}. Null after having taken the
     * way of an {@code invalid} problem, because nobody would be asked.
     */
    static @Nullable Set<String> of(TransitionBuilder turn, List<Template> who) {
        Set<String> all = new TreeSet<>();
        for (Template one : who) {
            TracedValue filled = turn.fill(one);
            if (filled == null) {
                return null;
            }
            if (ReviewRule.isUnread(turn, filled)) {
                turn.problem(
                        Problem.REFUSED,
                        "whom ‘" + one.text() + "’ names was written by a model, and nobody has approved that");
                return null;
            }
            boolean named = one.asConstant().isPresent();
            List<JsonNode> names = new ArrayList<>();
            if (filled.value().isArray()) {
                filled.value().forEach(names::add);
            } else {
                names.add(filled.value());
            }
            for (JsonNode name : names) {
                String text = name.asString("").strip();
                if (text.isEmpty()) {
                    turn.problem(Problem.INVALID, "‘" + one.text() + "’ names nobody who could be asked");
                    return null;
                }
                all.add(named || isGroup(turn, text) || text.startsWith("person:") ? text : "person:" + text);
            }
        }
        return all;
    }

    private static boolean isGroup(TransitionBuilder turn, String name) {
        return turn.edition().handbook().groups().containsKey(name)
                || turn.edition().handbook().desks().containsKey(name);
    }
}
