package servitor.core.handbook.read;

import java.util.Set;
import java.util.TreeSet;

/** The words pages are written with, for tests of other packages. */
public final class PageWords {
    private PageWords() {}

    /** Every key of a front matter and of a step. */
    public static Set<String> keys() {
        Set<String> keys = new TreeSet<>(RunbookReader.KEYS);
        StepReader.KEYS.values().forEach(keys::addAll);
        return keys;
    }
}
