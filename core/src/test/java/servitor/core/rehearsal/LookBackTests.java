package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.rehearsal.LookBack.Made;
import servitor.core.rehearsal.LookBack.NotKnowable;
import servitor.core.rehearsal.LookBack.Other;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.rehearsal.LookBack.Same;
import servitor.core.run.RunInput;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.node.ObjectNode;

/** Past cases, decided again by another edition: what changes, where first, and what nobody can know. */
class LookBackTests {
    private static final Handbook DEMO =
            CheckedHandbook.of(DemoHandbook.files()).handbook();

    /** The past: every rehearsal of the demo, as though it had been a case. */
    private static List<Past> past() {
        return DEMO.rehearsals().values().stream()
                .sorted((one, other) -> one.name().compareTo(other.name()))
                .map(rehearsal -> {
                    Played played = Rehearsing.play(new Edition(1, DEMO), rehearsal);
                    return new Past(
                            rehearsal.name(),
                            rehearsal.about(),
                            DEMO,
                            played.trail(),
                            played.state(),
                            name -> RecordingTests.later(rehearsal, name),
                            played.texts()::get);
                })
                .toList();
    }

    private static Map<String, Made> decidedBy(UnaryOperator<Map<String, String>> change) {
        CheckedHandbook changed = CheckedHandbook.of(change.apply(DemoHandbook.files()));
        assertThat(changed.sound()).as(changed.findings().toString()).isTrue();
        Map<String, Made> made = new LinkedHashMap<>();
        past().forEach(one -> made.put( // they are all called the same, and limits count by case
                one.caseId(), new LookBack(new Edition(2, changed.handbook())).decide(one)));
        return made;
    }

    private static UnaryOperator<Map<String, String>> with(String file, String from, String to) {
        return files -> {
            assertThat(files.get(file)).contains(from);
            files.put(file, files.get(file).replace(from, to));
            return files;
        };
    }

    private static List<String> otherThan(Map<String, Made> made, Class<? extends Made> type) {
        return made.entrySet().stream()
                .filter(one -> !type.isInstance(one.getValue()))
                .map(Map.Entry::getKey)
                .toList();
    }

    @Test
    void anEditionDecidesAsItDid() {
        Map<String, Made> made = decidedBy(files -> files);
        assertThat(otherThan(made, Same.class)).isEmpty();
    }

    @Test
    void aLoweredLimitIsFoundInExactlyTheCasesWhereItMatters() {
        Map<String, Made> made = decidedBy(with("mandates/purser.yaml", "<= 120.0", "<= 60.0"));
        assertThat(otherThan(made, Same.class)).containsExactly("refund-small", "refund-wording-sent-back");
        Other other = (Other) made.get("refund-small");
        assertThat(other.step()).isEqualTo("pay");
        assertThat(other.before()).isEqualTo("the mandate says ‘allow’ of ‘fares.pay-refund’");
        assertThat(other.after()).isEqualTo("the mandate says ‘ask’ of ‘fares.pay-refund’");
        assertThat(other.sort()).isEqualTo(LookBack.Sort.ASKED);
        assertThat(other.end()).as("what people would have said isn't known").isEmpty();
    }

    @Test
    void aRaisedLimitTellsWhatWouldHaveBeenPaidAlone() {
        Map<String, Made> made = decidedBy(with("mandates/purser.yaml", "<= 120.0", "<= 400.0"));
        assertThat(otherThan(made, Same.class))
                .containsExactly("refund-declined", "refund-large", "refund-nobody-answers");
        assertThat(((Other) made.get("refund-large")).after()).contains("‘allow’");
    }

    @Test
    void anotherBriefIsNotKnowableWhereAModelIsAsked() {
        Map<String, Made> made = decidedBy(with("agents/steward.yaml", "job: ", "job: Kindly and quickly, "));
        assertThat(otherThan(made, Same.class)).containsExactly("pay-question", "sea-medical-is-a-pay-slip");
        NotKnowable one = (NotKnowable) made.get("pay-question");
        assertThat(one.step()).isEqualTo("write the answer");
        assertThat(one.why()).contains("the model would be told something else");
    }

    @Test
    void aModelThatMayBeAskedAgainSaysWhatWouldComeOfAnotherBrief() {
        Map<String, String> files = with("agents/steward.yaml", "job: ", "job: Kindly and quickly, ")
                .apply(DemoHandbook.files());
        Edition other = new Edition(2, CheckedHandbook.of(files).handbook());
        Past past = past().stream()
                .filter(one -> one.caseId().equals("pay-question"))
                .findFirst()
                .orElseThrow();
        assertThat(((NotKnowable) new LookBack(other).decide(past)).prompt()).isNotNull();
        List<String> asked = new ArrayList<>();
        Made made = new LookBack(other).decide(past, (id, prompt, agent, step) -> {
            asked.add(agent + ", " + step);
            return Optional.of(new RunInput.ModelFailed(id, Problem.UNAVAILABLE, "away", 0));
        });
        assertThat(asked).isNotEmpty().allMatch(one -> one.startsWith("steward, "));
        assertThat(made).isInstanceOf(Other.class);
        assertThat(new LookBack(other).decide(past, (id, prompt, agent, step) -> Optional.empty()))
                .as("no more may be asked")
                .isInstanceOfSatisfying(
                        NotKnowable.class, not -> assertThat(not.why()).contains("no more models"));
        assertThat(new LookBack(new Edition(2, DEMO)).decide(past, (id, prompt, agent, step) -> {
                    throw new AssertionError("what was asked then has its answer");
                }))
                .isInstanceOf(Same.class);
    }

    @Test
    void whatAModelWasToldAndIsGoneIsNamedAsSuch() {
        Map<String, String> files = with("agents/steward.yaml", "job: ", "job: Kindly and quickly, ")
                .apply(DemoHandbook.files());
        Past past = past().stream()
                .filter(one -> one.caseId().equals("pay-question"))
                .findFirst()
                .orElseThrow();
        Past gone = new Past(
                past.caseId(), past.about(), past.then(), past.trail(), past.state(), past.papers(), digest -> null);
        assertThat(new LookBack(new Edition(2, CheckedHandbook.of(files).handbook())).decide(gone))
                .isInstanceOfSatisfying(
                        NotKnowable.class, not -> assertThat(not.why()).contains("moved out, or erased"));
    }

    @Test
    void aCallThatWasNeverMadeIsNamed() {
        Map<String, Made> made = decidedBy(
                with(
                        "runbooks/kiosk-round.md",
                        "## Is any down?",
                        "## Ask once more\n```step\ncall: kiosks.list-down\nsave: again\non: { unavailable: hand over }\n```\n\n## Is any down?"));
        assertThat(otherThan(made, Same.class)).containsExactly("kiosk-round", "kiosk-round-all-up");
        Other other = (Other) made.get("kiosk-round");
        assertThat(other.after()).isEqualTo("goes to ‘Ask once more’");
        assertThat(other.end()).as("what comes after that isn't known").isEmpty();
    }

    @Test
    void whatLimitsCountIsCarriedOnFromCaseToCase() {
        Rehearsal round = DEMO.rehearsals().get("kiosk-frozen");
        Played played = Rehearsing.play(new Edition(1, DEMO), round);
        Map<String, String> files = with(
                        "mandates/lookout.yaml", "{ at-most: 20, per: [day] }", "{ at-most: 2, per: [day] }")
                .apply(DemoHandbook.files());
        LookBack look = new LookBack(new Edition(2, CheckedHandbook.of(files).handbook()));
        Past past = new Past("C-1", round.about(), DEMO, played.trail(), played.state(), name -> null, digest -> null);
        assertThat(look.decide(past)).isInstanceOf(Same.class);
        assertThat(look.decide(past)).isInstanceOf(Same.class);
        assertThat(((Other) look.decide(past)).after()).isEqualTo("the mandate says ‘ask’ of ‘kiosks.restart’");
    }

    private static final UnaryOperator<Map<String, String>> SHORTER =
            with("runbooks/complaint-answer.md", "within: P3D", "within: PT2H");

    @Test
    void aShorterWaitIsFoundWhereSomethingCameAfterIt() {
        Map<String, Made> made = decidedBy(SHORTER);
        assertThat(otherThan(made, Same.class)).containsExactly("complaint-answered-again");
        assertThat(((Other) made.get("complaint-answered-again")).after()).isEqualTo("meets a problem: expired");
    }

    @Test
    void whatWasSeenLateIsSeenLateAgain() {
        Past then = past().stream()
                .filter(one -> one.caseId().equals("complaint-answered-again"))
                .findFirst()
                .orElseThrow();
        Instant opened = then.about().at();
        List<RecordedEntry> trail = then.trail().stream()
                .map(entry -> entry.entry().what().equals(TrailWord.WAITING.word())
                        ? until(entry, entry.entry().at().plus(Duration.ofHours(2)))
                        : entry)
                .toList();
        Handbook shorter =
                CheckedHandbook.of(SHORTER.apply(DemoHandbook.files())).handbook();
        Past late = new Past("late", then.about(), shorter, trail, then.state(), then.papers(), then.texts());
        Made made = new LookBack(new Edition(2, shorter)).decide(late);
        assertThat(made)
                .as("two hours were to be waited, and it came after five")
                .isInstanceOf(Same.class);
        assertThat(made.played().trail())
                .filteredOn(entry -> entry.entry().what().equals(TrailWord.ARRIVED.word()))
                .extracting(entry -> Duration.between(opened, entry.entry().at()))
                .containsExactly(Duration.ofHours(5));
    }

    private static RecordedEntry until(RecordedEntry entry, Instant end) {
        ObjectNode data = ((ObjectNode) entry.data()).deepCopy();
        return new RecordedEntry(entry.entry(), entry.salt(), data.put("until", end.toString()));
    }

    private static About opened(About about, @Nullable String page, Instant at) {
        return new About(
                about.kind(),
                page,
                about.subject(),
                about.text(),
                about.language(),
                about.channel(),
                about.priority(),
                about.fields(),
                about.labels(),
                about.requester(),
                about.documents(),
                at);
    }

    /** A kiosk that is restarted, {@code took} after its case was opened. */
    private static Past restarted(String id, Instant at, Duration took) {
        Rehearsal round = DEMO.rehearsals().get("kiosk-frozen");
        List<Cue> cues = new ArrayList<>(round.cues());
        Rehearsal.ModelSays plan = (Rehearsal.ModelSays) cues.get(0);
        cues.set(0, new Rehearsal.ModelSays(plan.step(), plan.result(), plan.tokens(), took, plan.place()));
        About about = round.about();
        About then = opened(about, about.page(), at);
        Played played = Rehearsing.play(
                new Edition(1, DEMO),
                new Rehearsal(round.name(), round.title(), then, cues, round.must(), round.places()));
        return new Past(id, then, DEMO, played.trail(), played.state(), name -> null, digest -> null);
    }

    @Test
    void whatIsCountedIsCountedInTheOrderOfItsTimes() {
        Map<String, String> files = with(
                        "mandates/lookout.yaml", "{ at-most: 20, per: [day] }", "{ at-most: 1, per: [day] }")
                .apply(DemoHandbook.files());
        LookBack look = new LookBack(new Edition(2, CheckedHandbook.of(files).handbook()));
        Instant nine = Instant.parse("2026-06-01T09:00:00Z");
        List<LookBack.Decided> decided =
                new ArrayList<>(look.take(restarted("C-1", nine, Duration.ofMinutes(9)), null));
        decided.addAll(look.take(restarted("C-2", nine.plusSeconds(60), Duration.ZERO), null));
        decided.addAll(look.rest());
        assertThat(decided).extracting(one -> one.past().caseId()).containsExactly("C-2", "C-1");
        assertThat(decided.get(0).made()).as("it was restarted first").isInstanceOf(Same.class);
        Other other = (Other) decided.get(1).made();
        assertThat(other.after()).isEqualTo("the mandate says ‘ask’ of ‘kiosks.restart’");

        LookBack alone = new LookBack(
                new Edition(2, CheckedHandbook.of(files).handbook()),
                decided.get(1).from());
        assertThat(((Other) alone.decide(decided.get(1).past())).after())
                .as("looked at by itself, it meets what it met")
                .isEqualTo(other.after());
    }

    @Test
    void aCaseThatCantBeBegunTakesNoOtherAlong() {
        Past first = past().get(0);
        About about = first.about();
        About nowhere = opened(about, "no-such-page", about.at().plus(Duration.ofDays(90)));
        Past broken = new Past("broken", nowhere, DEMO, List.of(), "", name -> null, digest -> null);
        LookBack look = new LookBack(new Edition(2, DEMO));
        List<LookBack.Decided> decided = new ArrayList<>(look.take(first, null));
        assertThat(decided).as("people are still asked").isEmpty();
        assertThatThrownBy(() -> look.take(broken, null)).isInstanceOf(RuntimeException.class);
        decided.addAll(look.rest());
        assertThat(decided).extracting(one -> one.past().caseId()).containsExactly(first.caseId());
    }
}
