package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
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

    static List<String> told(Played played) {
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

    @ParameterizedTest
    @MethodSource("names")
    void theVeiledOneIsAFileThatNamesNobody(String name) {
        Rehearsal rehearsal = DEMO.rehearsals().get(name);
        Played first = Rehearsing.play(new Edition(1, DEMO), rehearsal);
        Recording.Made made = Recording.of(
                DEMO,
                name,
                rehearsal.title(),
                rehearsal.about(),
                first.trail(),
                first.state(),
                paper -> later(rehearsal, paper));
        Map<String, String> files = DemoHandbook.files();
        files.keySet().removeIf(path -> path.startsWith("rehearsals/"));
        String text = RehearsalText.of(VeiledRehearsal.of(made.rehearsal(), files), List.of("a remark"));
        assertThat(text)
                .startsWith("# a remark\n")
                .doesNotContain(
                        rehearsal.about().requester().name(),
                        rehearsal.about().requester().account());
        if (rehearsal.about().text().length() > 20) {
            assertThat(text).doesNotContain(rehearsal.about().text());
        }
        files.put("rehearsals/veiled.yaml", text);
        CheckedHandbook checked = CheckedHandbook.of(files);
        assertThat(checked.findings())
                .filteredOn(finding -> finding.place().file().equals("rehearsals/veiled.yaml"))
                .isEmpty();
        if (rehearsal.about().documents().isEmpty()
                && made.rehearsal().cues().stream().noneMatch(Comes.class::isInstance)) {
            assertThat(Rehearsing.play(
                                    new Edition(1, checked.handbook()),
                                    checked.handbook().rehearsals().get("veiled"))
                            .differences())
                    .isEmpty();
        }
    }
}
