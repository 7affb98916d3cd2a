package servitor.core.handbook.read;

import java.util.Set;
import java.util.TreeSet;
import servitor.core.handbook.VerbForm;

/** The words pages are written with, for tests of other packages. */
public final class PageWords {
    private PageWords() {}

    /** Every key of a front matter and of a step. */
    public static Set<String> keys() {
        Set<String> keys = new TreeSet<>(RunbookReader.KEYS);
        for (VerbForm form : VerbForm.values()) {
            keys.addAll(form.keys());
        }
        return keys;
    }

    /** The verbs that can be read. */
    public static Set<VerbForm> readable() {
        return StepReader.readable();
    }
}
