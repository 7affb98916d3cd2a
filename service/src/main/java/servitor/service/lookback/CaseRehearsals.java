package servitor.service.lookback;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.rehearsal.Played;
import servitor.core.rehearsal.Recording;
import servitor.core.rehearsal.RehearsalText;
import servitor.core.rehearsal.Rehearsing;
import servitor.core.rehearsal.VeiledRehearsal;
import servitor.service.editions.Editions;
import servitor.service.lookback.PastCases.Found;

/** Makes rehearsals of real cases, without what tells about people. */
@Service
public class CaseRehearsals {
    private final PastCases pastCases;
    private final Editions editions;

    CaseRehearsals(PastCases pastCases, Editions editions) {
        this.pastCases = pastCases;
        this.editions = editions;
    }

    /**
     * A rehearsal as a file.
     *
     * @param left what it lacks of what happened, in words
     */
    public record Made(String path, String text, List<String> left) {
        public Made {
            left = List.copyOf(left);
        }
    }

    /**
     * That of a case; empty when no page has worked on it.
     *
     * @throws IllegalArgumentException when none can be made of it, with the reason
     */
    public Optional<Made> of(String caseId) {
        return pastCases.find(caseId).map(found -> {
            Past past = found.past();
            if (past == null) {
                throw new IllegalArgumentException("No rehearsal can be made of " + caseId + ": " + found.why() + ".");
            }
            return made(past, found.edition());
        });
    }

    /**
     * A case as it was opened, with what the world said to it, for whoever sees it: nothing is left out, and nothing of it may be kept.
     *
     * @throws IllegalArgumentException when no page has worked on it, it isn't done yet, or a part of it is gone
     */
    public Rehearsal asItWas(String caseId) {
        Found found = pastCases
                .find(caseId)
                .orElseThrow(() -> new IllegalArgumentException("No page has worked on " + caseId + "."));
        if (found.past() == null) {
            throw new IllegalArgumentException(caseId + " can't be tried out: " + found.why() + ".");
        }
        return recorded(found.past()).rehearsal();
    }

    private static Recording.Made recorded(Past past) {
        return Recording.of(
                past.then(),
                "from-" + past.caseId().toLowerCase(java.util.Locale.ROOT),
                "As it was in " + past.caseId(),
                past.about(),
                past.trail(),
                past.state(),
                past.papers());
    }

    private Made made(Past past, int edition) {
        Recording.Made recorded = recorded(past);
        String name = recorded.rehearsal().name();
        Map<String, String> files = editions.files(edition);
        Rehearsal veiled = VeiledRehearsal.of(recorded.rehearsal(), files);
        List<String> left = new ArrayList<>(recorded.left());
        left.addAll(notYet(files, name, veiled));
        List<String> remarks = new ArrayList<>();
        remarks.add(
                "Made of " + past.caseId() + ", edition " + edition
                        + ". Values are made up; texts and documents were left out. Say under ‘must’ what should have come of it.");
        left.forEach(one -> remarks.add("Left out: " + one));
        return new Made("rehearsals/" + name + ".yaml", RehearsalText.of(veiled, remarks), left);
    }

    /** What doesn't come as it came, as what was left out mattered. */
    private static List<String> notYet(Map<String, String> files, String name, Rehearsal veiled) {
        Map<String, String> with = new java.util.TreeMap<>(files);
        with.put("rehearsals/" + name + ".yaml", RehearsalText.of(veiled, List.of()));
        CheckedHandbook checked = CheckedHandbook.of(with);
        Rehearsal read = checked.handbook().rehearsals().get(name);
        List<String> wrong = checked.findings().stream()
                .filter(finding -> finding.severity() == Finding.Severity.ERROR)
                .map(finding -> "it can't be played yet: " + finding.what())
                .toList();
        if (read == null || !wrong.isEmpty()) {
            return wrong;
        }
        Played played = Rehearsing.play(new Edition(1, checked.handbook()), read);
        return played.differences().stream()
                .map(difference -> "it doesn't play as it was yet: " + difference)
                .toList();
    }
}
