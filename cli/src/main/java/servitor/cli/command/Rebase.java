package servitor.cli.command;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeSet;

/**
 * What a folder takes over of an edition that was published since it was made from another.
 *
 * @param taken files as they are in force now, that nobody has changed here
 * @param removed files that were taken out since, and that nobody has changed here
 * @param conflicts files that were changed both here and there, each in another way
 */
record Rebase(Map<String, String> taken, List<String> removed, List<String> conflicts) {

    static Rebase of(Map<String, String> base, Map<String, String> here, Map<String, String> current) {
        Map<String, String> taken = new LinkedHashMap<>();
        List<String> removed = new ArrayList<>();
        List<String> conflicts = new ArrayList<>();
        TreeSet<String> all = new TreeSet<>(base.keySet());
        all.addAll(here.keySet());
        all.addAll(current.keySet());
        for (String path : all) {
            String was = base.get(path);
            String mine = here.get(path);
            String theirs = current.get(path);
            if (Objects.equals(was, theirs) || Objects.equals(mine, theirs)) {
                continue; // nobody else changed it, or just like here
            } else if (!Objects.equals(was, mine)) {
                conflicts.add(path);
            } else if (theirs == null) {
                removed.add(path);
            } else {
                taken.put(path, theirs);
            }
        }
        return new Rebase(taken, removed, conflicts);
    }
}
