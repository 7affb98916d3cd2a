package servitor.core.catalogue;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import servitor.core.rehearsal.Played;
import servitor.core.rehearsal.Rehearsals;

class CatalogueTests {

    static java.util.List<Catalogue.Entry> entries() {
        return Catalogue.entries();
    }

    @ParameterizedTest
    @MethodSource("entries")
    void everyStartingPointCanBePublishedAsItIs(Catalogue.Entry entry) {
        Map<String, String> files = Catalogue.adapt(entry, Map.of("desk", "harbour"), Map.of());
        assertThat(CheckedHandbook.of(files).findings())
                .filteredOn(finding -> finding.severity() != Finding.Severity.HINT)
                .isEmpty();
        assertThat(files.values()).noneMatch(text -> text.contains("{{"));
        List<Played> plays = Rehearsals.play(CheckedHandbook.of(files).handbook());
        assertThat(plays).as("it brings a rehearsal").isNotEmpty();
        assertThat(Rehearsals.findings(plays)).isEmpty();
    }

    @Test
    void thereAreAtLeastSix() {
        assertThat(Catalogue.entries()).hasSizeGreaterThanOrEqualTo(6);
    }

    @Test
    void nothingThatIsThereIsOverwritten() {
        Catalogue.Entry refund = Catalogue.find("refund-within-limits").orElseThrow();
        assertThatThrownBy(() -> Catalogue.adapt(refund, Map.of(), DemoHandbook.files()))
                .hasMessageContaining("kinds/refund.yaml already");
        Catalogue.Entry question = Catalogue.find("answer-a-question").orElseThrow();
        assertThat(Catalogue.adapt(question, Map.of("desk", "passengers"), DemoHandbook.files()))
                .doesNotContainKeys("handbook.yaml", "desks.yaml")
                .containsKey("runbooks/answer-a-question.md");
    }

    @Test
    void whatCantBeANameIsRefused() {
        Catalogue.Entry entry = Catalogue.entries().get(0);
        assertThatThrownBy(() -> Catalogue.adapt(entry, Map.of("desk", "../x"), Map.of()))
                .hasMessageContaining("can't be the desk");
        assertThatThrownBy(() -> Catalogue.adapt(entry, Map.of("dsk", "x"), Map.of()))
                .hasMessageContaining("asks for desk");
    }
}
