package servitor.service.lookback;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.WayOfWorking;
import servitor.core.handbook.read.WorksText;
import servitor.core.rehearsal.Agreement;
import servitor.core.run.RunStatus;
import servitor.core.trail.TrailWord;
import servitor.service.Precondition;
import servitor.service.editions.Drafts;
import servitor.service.ledger.TrailStore;
import servitor.service.people.Person;
import servitor.service.runs.RunStore;

/** What calls that didn't leave by themselves proposed, beside what people did; and the next way of working, into a draft. */
@Service
public class ShadowWork {
    private static final int MOST_CASES = 5_000;
    private static final int MOST_ENTRIES = 2_000;

    private final TrailStore trailStore;
    private final RunStore runStore;
    private final Drafts drafts;
    private final Clock clock;

    ShadowWork(TrailStore trailStore, RunStore runStore, Drafts drafts, Clock clock) {
        this.trailStore = trailStore;
        this.runStore = runStore;
        this.drafts = drafts;
        this.clock = clock;
    }

    /** A sheet for each tool, of the cases that somebody sees as staff. */
    public List<Agreement.Sheet> sheets(Person person, Handbook handbook, Duration since) {
        Agreement agreement = new Agreement(handbook);
        List<TrailWord> words = List.of(TrailWord.CALL_HELD, TrailWord.APPROVAL_OPENED);
        for (String id :
                trailStore.casesWith(person.staffDesks(), words, clock.instant().minus(since), MOST_CASES)) {
            boolean ended = runStore.ofCase(id).stream()
                    .allMatch(run -> RunStatus.of(run.status()).ended());
            agreement.add(trailStore.ofCase(id, 0, MOST_ENTRIES), ended);
        }
        return agreement.sheets();
    }

    /**
     * Has an agent or a tool work otherwise, in somebody's draft.
     *
     * @param what {@code agent} or {@code tool}
     * @return the file that was changed
     * @throws IllegalArgumentException when there is no such one, or its file can't be changed so
     */
    public String change(Person person, String what, String name, WayOfWorking works) {
        boolean tool = what.equals("tool");
        int dot = name.indexOf('.');
        String path = tool ? "tools/" + name.substring(0, Math.max(dot, 0)) + ".yaml" : "agents/" + name + ".yaml";
        Map<String, String> files = drafts.of(person.id()).files();
        String text = files.get(path);
        if (text == null) {
            throw new IllegalArgumentException("Your draft has no " + what + " ‘" + name + "’.");
        }
        drafts.put(
                person.id(),
                path,
                WorksText.with(text, tool ? name.substring(dot + 1) : null, works),
                Precondition.NONE);
        return path;
    }
}
