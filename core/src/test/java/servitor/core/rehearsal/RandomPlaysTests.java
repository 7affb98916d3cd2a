package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import servitor.core.SchemaValues;
import servitor.core.engine.RandomHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Place;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.read.RehearsalAnswers;
import servitor.core.json.Json;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.rehearsal.LookBack.Same;
import servitor.core.rehearsal.TryOut.Open;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** Handbooks and answers made up by chance: what is recorded of a play comes again entry by entry, and is decided the same. */
class RandomPlaysTests {
    private static final int PLAYS = Integer.getInteger("plays", 1_500);
    private static final int HANDBOOKS = 100;
    private static final int MOST_ANSWERS = 60;
    private static final Place HERE = Place.top("here");
    private static final List<Edition> EDITIONS = IntStream.range(0, HANDBOOKS)
            .parallel()
            .mapToObj(RandomHandbook::edition)
            .toList();

    private static Rehearsal request() {
        return RehearsalAnswers.of(
                "By chance",
                Json.read("{\"kind\":\"request\",\"fields\":{\"amount\":100.0,\"ref\":\"thing 1\"}}", JsonNode.class));
    }

    /** A play to its end; empty when it comes to none. */
    private static Optional<Played> played(Edition edition, Random random) {
        List<Cue> answers = new ArrayList<>();
        Set<String> silent = new HashSet<>();
        for (int turn = 0; turn < MOST_ANSWERS; turn++) {
            TryOut at = TryOut.play(edition, request(), answers, silent);
            if (at.open() == null) {
                return Optional.of(at.played()).filter(RandomPlaysTests::ended);
            }
            answer(at.open(), random)
                    .ifPresentOrElse(answers::add, () -> silent.add(at.open().id()));
        }
        return Optional.empty();
    }

    private static boolean ended(Played played) {
        return played.faults().isEmpty()
                && played.trail().stream()
                        .anyMatch(entry -> entry.entry().what().equals(TrailWord.RUN_FINISHED.word()));
    }

    /** How long somebody takes: never just as long as somebody else, so that it is told what comes first. */
    private static Duration later(Random random) {
        return Duration.ofNanos(1_000L * (1 + random.nextInt(1_000_000_000)));
    }

    /** What somebody says there; empty for nothing. */
    private static Optional<Cue> answer(Open open, Random random) {
        return switch (open.sort()) {
            case TOOL, HAND ->
                Optional.of(new Rehearsal.ToolSays(
                        open.what(),
                        open.shown(),
                        random.nextInt(6) == 0
                                ? new Rehearsal.Fails(random.nextBoolean() ? "not-found" : "invalid", "by chance")
                                : new Rehearsal.Gives(SchemaValues.value(open.schema(), "words", random)),
                        false,
                        later(random),
                        HERE));
            case MODEL ->
                Optional.of(new Rehearsal.ModelSays(
                        open.step(),
                        random.nextInt(8) == 0
                                ? new Rehearsal.Fails("unavailable", "by chance")
                                : new Rehearsal.Gives(SchemaValues.value(open.schema(), "words", random)),
                        100,
                        later(random),
                        HERE));
            case PEOPLE -> people(open, random);
            case WAIT ->
                random.nextInt(3) == 0 || !open.what().equals("reply")
                        ? Optional.empty()
                        : Optional.of(new Rehearsal.Comes(
                                "reply",
                                "",
                                Json.object().put("text", "Here it is."),
                                null,
                                false,
                                later(random),
                                HERE));
        };
    }

    private static Optional<Cue> people(Open open, Random random) {
        int says = random.nextInt(open.shown().at("/feedback/left").asInt(0) > 0 ? 5 : 4);
        JsonNode form = open.shown().at("/form/schema");
        return says == 0
                ? Optional.empty()
                : Optional.of(new Rehearsal.PeopleSay(
                        open.step(),
                        says == 1 ? "decline" : says == 4 ? "feedback" : "approve",
                        List.of("osei", "lucja", "sunniva").get(random.nextInt(3)),
                        says == 1 || says == 4 ? "by chance" : "",
                        Map.of(),
                        says == 1 || says == 4 || form.isMissingNode()
                                ? null
                                : SchemaValues.value(form, "words", random),
                        later(random),
                        HERE));
    }

    /** Each entry, but for its times. */
    private static List<String> told(Played played) {
        return RecordingTests.told(played).stream()
                .map(entry -> entry.replaceAll("\\d{4}-\\d\\d-\\d\\dT[\\d:.]+Z", "then"))
                .toList();
    }

    /** What is wrong with the play of a seed; empty when nothing is, or when it came to no end. */
    private static Optional<String> fault(long seed, AtomicInteger ended) {
        Edition edition = EDITIONS.get((int) (seed % HANDBOOKS));
        Optional<Played> first = played(edition, new Random(seed));
        if (first.isEmpty()) {
            return Optional.empty();
        }
        ended.incrementAndGet();
        Played was = first.get();
        Recording.Made made = Recording.of(
                edition.handbook(), "again", "Again", was.rehearsal().about(), was.trail(), was.state(), name -> null);
        Played again = Rehearsing.play(edition, made.rehearsal());
        List<String> before = told(was);
        List<String> after = told(again);
        for (int at = 0; at < Math.max(before.size(), after.size()); at++) {
            String one = at < before.size() ? before.get(at) : "nothing more";
            String other = at < after.size() ? after.get(at) : "nothing more " + again.faults();
            if (!one.equals(other)) {
                return Optional.of("seed " + seed + ", entry " + at + ":\n  then  " + one + "\n  again " + other);
            }
        }
        LookBack.Made decided = new LookBack(edition)
                .decide(new Past(
                        was.trail().get(0).entry().caseId(),
                        was.rehearsal().about(),
                        edition.handbook(),
                        was.trail(),
                        was.state(),
                        name -> null,
                        was.texts()::get));
        return decided instanceof Same ? Optional.empty() : Optional.of("seed " + seed + ": " + decided);
    }

    @Test
    void whatWasRecordedComesAgainAndIsDecidedTheSame() {
        Long one = Long.getLong("seed");
        AtomicInteger ended = new AtomicInteger();
        LongStream seeds = one == null ? LongStream.range(0, PLAYS) : LongStream.of(one);
        List<String> faults = seeds.parallel()
                .mapToObj(seed -> fault(seed, ended))
                .flatMap(Optional::stream)
                .limit(5)
                .toList();
        assertThat(faults).isEmpty();
        assertThat(ended.get()).as("plays that come to an end").isGreaterThan(one == null ? PLAYS / 2 : 0);
        System.out.println("Played " + ended.get() + " plays again.");
    }
}
