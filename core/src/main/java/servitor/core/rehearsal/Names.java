package servitor.core.rehearsal;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Opening;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * What a case and its runs were called, so that what is decided again is called the same.
 *
 * @param runs in the order in which they began
 * @param opened the cases that were opened for it, in order
 * @param asked the steps at which people were asked; null for what never was, where whoever is asked may be silent
 * @param trail that they stand on
 */
record Names(
        String caseId,
        List<String> runs,
        List<String> opened,
        @Nullable List<String> asked,
        List<RecordedEntry> trail) {
    /** For what never was. */
    static final Names MADE_UP = new Names("C-1", List.of(), List.of(), null, List.of());

    Names {
        runs = List.copyOf(runs);
        opened = List.copyOf(opened);
        asked = asked == null ? null : List.copyOf(asked);
        trail = List.copyOf(trail);
    }

    /** As they stand on a trail. */
    static Names of(List<RecordedEntry> trail) {
        Set<String> runs = new LinkedHashSet<>();
        List<String> opened = new ArrayList<>();
        Set<String> opening = new LinkedHashSet<>();
        List<String> asked = new ArrayList<>();
        for (RecordedEntry recorded : trail) {
            String what = recorded.entry().what();
            JsonNode data = recorded.data();
            if (what.equals(TrailWord.RUN_STARTED.word())) {
                runs.add(recorded.entry().runId());
            } else if (what.equals(TrailWord.APPROVAL_OPENED.word())) {
                asked.add(recorded.entry().step());
            } else if (data != null
                    && what.equals(TrailWord.CALL_SENT.word())
                    && data.path("tool").asString("").equals(Opening.OPEN)) {
                opening.add(data.path("key").asString(""));
            } else if (data != null
                    && what.equals(TrailWord.CALL_ANSWERED.word())
                    && opening.contains(data.path("key").asString(""))) {
                opened.add(data.at("/answer/id").asString(""));
            }
        }
        String caseId = trail.isEmpty() ? MADE_UP.caseId : trail.get(0).entry().caseId();
        return new Names(caseId, List.copyOf(runs), opened, asked, trail);
    }

    /** The id of the case that is opened as the {@code number}th, from 0. */
    String openedCase(int number) {
        return number < opened.size() ? opened.get(number) : caseId + "-" + (number + 1);
    }
}
