package servitor.core.run;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;

/** Which of the saved values are answers of tools, as they came. */
final class Lookups {
    private Lookups() {}

    /** The tool whose answer is saved under {@code name}; empty when something else is, or may be. */
    static Optional<Tool> answerOf(TransitionBuilder turn, String name) {
        TracedValue value = turn.known().saved().get(name);
        if (value == null || !value.origins().equals(Set.of(Origin.LOOKUP))) {
            return Optional.empty();
        }
        List<Verb> savers = turn.page().steps().stream()
                .map(Step::verb)
                .filter(verb -> name.equals(verb.save()))
                .toList();
        Set<String> tools = new TreeSet<>();
        savers.forEach(verb -> tools.add(verb instanceof Verb.Call call ? call.tool() : ""));
        return tools.size() == 1 ? of(turn, tools.iterator().next()) : Optional.empty();
    }

    /** A tool whose answer is a record of an outside system: what another page gives is put together by that page. */
    static Optional<Tool> of(TransitionBuilder turn, String name) {
        return Optional.ofNullable(turn.edition().handbook().tools().get(name))
                .filter(tool -> !(tool.binding() instanceof Binding.PageTool));
    }
}
