package servitor.core.handbook.check;

import java.util.Set;
import servitor.core.handbook.Verb;

/** The verbs whose steps are checked, for tests of other packages. */
public final class CheckedVerbs {
    private CheckedVerbs() {}

    public static Set<Class<? extends Verb>> all() {
        return StepChecker.checked();
    }
}
