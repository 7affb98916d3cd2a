package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.trail.TrailWord;

/** What people do by hand, asked or unasked, can be rehearsed, is recorded of what happened, and happens again. */
class ByHandTests {
    private static final String BOOKING =
            RehearsingTests.PAY_ALONE.replaceFirst("(?s)  - \\{ tool: fares.pay-refund.*", "");
    private static final String FAILS = "  - { tool: fares.pay-refund, fails: unavailable }\n";
    private static final String PAYS =
            "  - { tool: fares.pay-refund, gives: { refund: RF-1, reference: SK-48213, amount: 84.5, currency: EUR } }\n";
    private static final String DRAFTS = "  - { model: Write the answer, gives: { text: It is paid. }, tokens: 40 }\n";
    private static final String ANSWERED = DRAFTS + "  - { people: Check the wording, by: sunniva, after: PT10M }\n";

    private static Played play(String answers, String end) {
        return play(DemoHandbook.files(), BOOKING + answers + "must:\n  end: " + end + "\n");
    }

    private static Played play(Map<String, String> files, String text) {
        files.put("rehearsals/tried.yaml", text);
        CheckedHandbook checked = CheckedHandbook.of(files);
        assertThat(checked.findings())
                .filteredOn(finding -> finding.place().file().equals("rehearsals/tried.yaml"))
                .isEmpty();
        Handbook handbook = checked.handbook();
        Played first =
                Rehearsing.play(new Edition(1, handbook), handbook.rehearsals().get("tried"));
        happensAgain(handbook, first);
        return first;
    }

    /** What was recorded of it, written into a file and read again, is played the same. */
    private static void happensAgain(Handbook handbook, Played first) {
        Recording.Made made = Recording.of(
                handbook, "again", "Again", first.rehearsal().about(), first.trail(), first.state(), paper -> null);
        assertThat(made.left()).isEmpty();
        Played again = playedFrom(handbook, made.rehearsal());
        assertThat(again.differences()).isEmpty();
        assertThat(RecordingTests.told(again)).isEqualTo(RecordingTests.told(first));
        Played veiled = playedFrom(handbook, VeiledRehearsal.of(made.rehearsal(), DemoHandbook.files()));
        assertThat(veiled.differences()).isEmpty();
    }

    private static Played playedFrom(Handbook handbook, Rehearsal rehearsal) {
        Map<String, String> files = DemoHandbook.files();
        files.put("rehearsals/again.yaml", RehearsalText.of(rehearsal, List.of()));
        return Rehearsing.play(
                new Edition(1, handbook),
                CheckedHandbook.of(files).handbook().rehearsals().get("again"));
    }

    private static List<String> words(Played played, TrailWord... wanted) {
        List<String> words = List.of(wanted).stream().map(TrailWord::word).toList();
        return played.trail().stream()
                .map(entry -> entry.entry().what())
                .filter(words::contains)
                .toList();
    }

    @Test
    void aStepThatFailedIsTriedAgainSkippedOrTakenOver() {
        String retry = "  - { people: Pay, say: retry, by: sunniva, after: PT1H }\n";
        String asked = "  - { people: Pay, by: osei, after: PT5M }\n"; // alone it pays once a case
        assertThat(play(FAILS, "with-people").differences()).isEmpty();
        assertThat(play(FAILS + retry + asked + PAYS + ANSWERED, "resolved").differences())
                .isEmpty();
        assertThat(play(FAILS + retry.replace("retry", "take-over"), "with-people")
                        .differences())
                .isEmpty();
        String gives = "gives: { refund: RF-9, reference: SK-48213, amount: 84.5, currency: EUR }";
        Played skipped =
                play(FAILS + retry.replace("retry", "skip").replace("after", gives + ", after") + ANSWERED, "resolved");
        assertThat(skipped.differences()).isEmpty();
        assertThat(skipped.calls())
                .filteredOn(call -> call.tool().equals("fares.pay-refund"))
                .as("skipped, not sent again")
                .hasSize(1);
    }

    @Test
    void whatPeopleSayMustCount() {
        String skip = "  - { people: Pay, say: skip, by: sunniva }\n";
        Map<String, String> files = DemoHandbook.files();
        files.put("rehearsals/tried.yaml", BOOKING + FAILS + skip + "must: {}\n");
        Handbook handbook = CheckedHandbook.of(files).handbook();
        assertThat(Rehearsing.play(
                                new Edition(1, handbook), handbook.rehearsals().get("tried"))
                        .differences())
                .singleElement()
                .asString()
                .startsWith("what is said by people at ‘Pay’ doesn't count: ");
    }

    @Test
    void aRunIsPausedAdvisedAndStoppedUnasked() {
        String pays = PAYS + DRAFTS;
        String paused = "  - { people: Check the wording, by: sunniva, after: PT2H }\n"
                + "  - { unasked: pause, at: Check the wording, by: sunniva, says: wait, after: PT10M }\n"
                + "  - { unasked: advise, at: Check the wording, by: sunniva, says: Be kind., after: PT11M }\n"
                + "  - { unasked: resume, at: Check the wording, by: sunniva, after: PT1H50M }\n";
        Played held = play(pays + paused, "resolved");
        assertThat(held.differences())
                .as("half an hour to answer, but for the time that it stood")
                .isEmpty();
        assertThat(words(held, TrailWord.RUN_PAUSED, TrailWord.AGENT_ADVISED, TrailWord.RUN_RESUMED))
                .containsExactly("run-paused", "agent-advised", "run-resumed");
        String stopped = "  - { unasked: stop, at: Check the wording, by: sunniva, says: enough, after: PT5M }\n";
        assertThat(play(pays + stopped, "with-people").differences()).isEmpty();
        assertThat(play(pays + stopped + stopped.replace("stop,", "resolve,").replace("5M", "9M"), "resolved")
                        .differences())
                .isEmpty();
        assertThat(play(pays + stopped.replace("stop,", "withdraw,").replace("sunniva", "requester"), "closed")
                        .differences())
                .isEmpty();
    }

    @Test
    void whoComesTooLateHasMissedIt() {
        String late = "  - { unasked: stop, at: Pay, by: sunniva, after: PT5M }\n";
        Map<String, String> files = DemoHandbook.files();
        files.put("rehearsals/tried.yaml", BOOKING + PAYS + ANSWERED + late + "must: { end: resolved }\n");
        Handbook handbook = CheckedHandbook.of(files).handbook();
        assertThat(Rehearsing.play(
                                new Edition(1, handbook), handbook.rehearsals().get("tried"))
                        .differences())
                .containsExactly("never needed: sunniva unasked, ‘stop’");
    }

    @Test
    void noAnswerMayEverCome() {
        String silent = "  - { tool: fares.pay-refund, silent: true }\n";
        assertThat(play(silent, "working").differences())
                .as("nobody knows yet whether it is paid")
                .isEmpty();
        String stopped = "  - { unasked: stop, at: Pay, by: sunniva, says: enough, after: PT5M }\n";
        assertThat(words(play(silent + stopped, "with-people"), TrailWord.RUN_STOPPED))
                .hasSize(1);
        assertThat(play(PAYS + "  - { model: Write the answer, fails: unavailable }\n", "with-people")
                        .differences())
                .isEmpty();
        assertThat(play(PAYS + "  - { model: Write the answer, silent: true }\n", "working")
                        .differences())
                .isEmpty();
    }

    @Test
    void anAnswerThatDoesntCountStandsOnTheTrail() {
        String feedback = "  - { people: Pay, say: feedback, reason: Nicer., by: osei, after: PT5M }\n";
        String twice = PAYS.replace("RF-1", "RF-2") + "  - { people: Pay, say: retry, by: sunniva }\n";
        Map<String, String> files = DemoHandbook.files();
        files.put("rehearsals/tried.yaml", BOOKING + FAILS + twice + feedback + "must: {}\n");
        Handbook handbook = CheckedHandbook.of(files).handbook();
        Played played =
                Rehearsing.play(new Edition(1, handbook), handbook.rehearsals().get("tried"));
        assertThat(played.differences())
                .first()
                .asString()
                .startsWith("what is said by people at ‘Pay’ doesn't count: Nothing here was drafted");
        assertThat(words(played, TrailWord.ANSWER_REFUSED)).hasSize(1);
    }

    @Test
    void whatComesWithNobodyWaitingIsNoAnswerToWhoWaitsLater() {
        String hasty = "  - { comes: reply, text: And it was late., unawaited: true, after: PT1M }\n";
        String complaint = DemoHandbook.files().get("rehearsals/complaint-answered-again.yaml");
        Played played = play(
                DemoHandbook.files(),
                complaint.replace("by: sunniva }", "by: sunniva, after: PT2M }").replace("must:", hasty + "must:"));
        assertThat(played.differences()).isEmpty();
        assertThat(played.trail())
                .filteredOn(entry -> entry.entry().what().equals(TrailWord.NOTE_ADDED.word()))
                .extracting(entry -> entry.data().path("text").asString())
                .as("the first comes while people read what was drafted, the second when it is waited for")
                .containsExactly("And it was late.", "It was tea.");
        assertThat(words(played, TrailWord.ARRIVED)).hasSize(1);
    }

    @Test
    void whatHoldsNoMoreIsAskedNoMore() {
        Map<String, String> files = DemoHandbook.files();
        String page = files.keySet().stream()
                .filter(path -> files.get(path).startsWith("---\ntitle: Refund a cancelled sailing\n"))
                .findFirst()
                .orElseThrow();
        files.put(
                page,
                files.get(page)
                        .replace(
                                "within: PT30M\ngo: { approved: send,",
                                "within: PT30M\nvalid-while: timestamp(now) < timestamp(\"2026-06-01T09:10:00Z\")\n"
                                        + "go: { withdrawn: hand over, approved: send,"));
        String looked = "  - { people: Check the wording, say: nothing, after: PT12M }\n";
        Played played = play(files, BOOKING + PAYS + DRAFTS + looked + "must: { end: with-people }\n");
        assertThat(played.differences()).isEmpty();
        assertThat(words(played, TrailWord.APPROVAL_WITHDRAWN, TrailWord.APPROVAL_EXPIRED))
                .containsExactly("approval-withdrawn");
    }
}
