package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Verb;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.rehearsal.LimitTry.Point;
import servitor.core.rehearsal.LookBack.Past;

/** Other limits, tried at past cases: what they save, at what price. */
class LimitTryTests {
    private static final Handbook DEMO =
            CheckedHandbook.of(DemoHandbook.files()).handbook();

    private static List<BigDecimal> limits(String... limits) {
        return Stream.of(limits).map(BigDecimal::new).toList();
    }

    /** Each in a look of its own, as all these cases are called the same, and a limit counts by case. */
    private static List<Point> tried(String... limits) {
        List<Point> sums = null;
        for (Rehearsal rehearsal : DEMO.rehearsals().values()) {
            LimitTry tries = LimitTry.of(DEMO, "purser", "small refunds", limits(limits));
            Played played = Rehearsing.play(new Edition(1, DEMO), rehearsal);
            tries.add(new Past(
                    rehearsal.name(),
                    rehearsal.about(),
                    DEMO,
                    played.trail(),
                    played.state(),
                    name -> null,
                    digest -> null));
            List<Point> points = tries.points();
            List<Point> before = sums;
            sums = before == null
                    ? points
                    : Stream.iterate(0, i -> i + 1)
                            .limit(points.size())
                            .map(i -> sum(before.get(i), points.get(i)))
                            .toList();
        }
        return sums;
    }

    private static Point sum(Point one, Point other) {
        return new Point(
                one.limit(),
                one.judged() + other.judged(),
                one.asked() + other.asked(),
                one.alone() + other.alone(),
                one.saved() + other.saved(),
                one.declined() + other.declined(),
                one.money().add(other.money()),
                Stream.concat(one.cases().stream(), other.cases().stream()).toList(),
                Stream.concat(one.price().stream(), other.price().stream()).toList());
    }

    @Test
    void eachLimitSaysWhatItSavesAndAtWhatPrice() {
        List<Point> points = tried("400", "60", "120");
        assertThat(points)
                .extracting(Point::limit)
                .containsExactly(limits("60", "120", "400").toArray(BigDecimal[]::new));
        Point strict = points.get(0);
        Point same = points.get(1);
        Point loose = points.get(2);
        assertThat(strict.judged()).isEqualTo(8).isEqualTo(loose.judged());
        assertThat(List.of(strict.alone(), same.alone(), loose.alone())).containsExactly(0, 2, 5);
        assertThat(List.of(strict.saved(), same.saved(), loose.saved())).containsExactly(0, 0, 3);
        assertThat(loose.declined()).isEqualTo(1);
        assertThat(loose.price()).containsExactly("refund-declined");
        assertThat(loose.cases()).hasSize(loose.saved()).contains("refund-declined", "refund-large");
        assertThat(same.money()).isEqualByComparingTo("169.0");
        assertThat(loose.money()).isEqualByComparingTo("1099.0");
    }

    @Test
    void whatCannotBeTriedIsSaid() {
        assertThatThrownBy(() -> LimitTry.of(DEMO, "purser", "smal refunds", limits("1")))
                .hasMessageContaining("No mandate of ‘purser’ has a grant ‘smal refunds’");
        assertThatThrownBy(() -> LimitTry.of(DEMO, "purser", "look things up", limits("1")))
                .hasMessageContaining("holds no input against an amount");
    }

    @Test
    void otherMarksOfSurenessSayWhomTheyWouldHaveAsked() {
        Handbook handbook = DEMO;
        var page = handbook.runbooks().values().stream()
                .filter(one -> one.steps().stream()
                        .anyMatch(step -> step.verb() instanceof Verb.Assess assess && assess.unsureBelow() != null))
                .min(Comparator.comparing(one -> one.name()))
                .orElseThrow();
        String step = page.steps().stream()
                .filter(one -> one.verb() instanceof Verb.Assess assess && assess.unsureBelow() != null)
                .findFirst()
                .orElseThrow()
                .title();
        LimitTry tries = LimitTry.of(handbook, page, step, limits("0", "1"));
        for (Rehearsal rehearsal : handbook.rehearsals().values()) {
            Played played = Rehearsing.play(new Edition(1, handbook), rehearsal);
            tries.add(new Past(
                    rehearsal.name(),
                    rehearsal.about(),
                    handbook,
                    played.trail(),
                    played.state(),
                    name -> null,
                    played.texts()::get));
        }
        Point never = tries.points().get(0);
        Point always = tries.points().get(1);
        assertThat(never.judged()).isPositive().isEqualTo(always.judged());
        assertThat(always.asked()).isGreaterThanOrEqualTo(never.asked());
        assertThatThrownBy(() -> LimitTry.of(handbook, page, "No such step", limits("1")))
                .hasMessageContaining("no step");
    }

    @Test
    void aLimitOfAGrantIsTriedWhereItsConditionHasNoAmount() {
        Map<String, String> files = DemoHandbook.files();
        files.computeIfPresent(
                "mandates/purser.yaml",
                (path, text) -> text.replaceFirst("args.amount <= 120.0\\s+&& ", "")
                        .replace("{ at-most: 1, per: [case] }", "{ sum: args.amount, at-most: 120.0, per: [case] }"));
        CheckedHandbook checked = CheckedHandbook.of(files);
        assertThat(checked.sound()).as(checked.findings().toString()).isTrue();
        LimitTry tries = LimitTry.of(checked.handbook(), "purser", "small refunds", limits("60", "400"));
        Rehearsal large = DEMO.rehearsals().get("refund-large");
        Played played = Rehearsing.play(new Edition(1, checked.handbook()), large);
        tries.add(new Past(
                "large",
                large.about(),
                checked.handbook(),
                played.trail(),
                played.state(),
                name -> null,
                played.texts()::get));
        assertThat(tries.points()).extracting(Point::asked).containsExactly(1, 0);
        assertThat(tries.points()).extracting(Point::saved).containsExactly(0, 1);
        assertThat(tries.points().get(1).money()).isEqualByComparingTo("310.0");
    }
}
