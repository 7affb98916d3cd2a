package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.Comes;
import servitor.core.handbook.Rehearsal.Paper;
import servitor.core.handbook.check.CheckedHandbook;

/** A rehearsal made of what happened plays what happened, entry by entry. */
class RecordingTests {
    private static final Handbook DEMO =
            CheckedHandbook.of(DemoHandbook.files()).handbook();

    static Stream<String> names() {
        return DEMO.rehearsals().keySet().stream().sorted();
    }

    private static List<String> told(Played played) {
        return played.trail().stream()
                .map(entry -> entry.entry().at() + " " + entry.entry().actor() + " "
                        + entry.entry().runId() + " ‘" + entry.entry().step() + "’ "
                        + entry.entry().what() + " " + entry.data())
                .toList();
    }

    static Paper later(Rehearsal rehearsal, String name) {
        return rehearsal.cues().stream()
                .filter(Comes.class::isInstance)
                .map(cue -> ((Comes) cue).paper())
                .filter(paper -> paper != null && paper.name().equals(name))
                .findFirst()
                .orElse(null);
    }

    @ParameterizedTest
    @MethodSource("names")
    void whatHappenedHappensAgain(String name) {
        Rehearsal rehearsal = DEMO.rehearsals().get(name);
        Edition edition = new Edition(1, DEMO);
        Played first = Rehearsing.play(edition, rehearsal);
        Recording.Made made = Recording.of(
                DEMO,
                name,
                rehearsal.title(),
                rehearsal.about(),
                first.trail(),
                first.state(),
                paper -> later(rehearsal, paper));
        Played again = Rehearsing.play(edition, made.rehearsal());
        assertThat(again.differences()).isEmpty();
        assertThat(told(again)).isEqualTo(told(first));
    }
}
