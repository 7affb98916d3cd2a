package servitor.service.live;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import servitor.service.ledger.LedgerTransaction.Changed;
import servitor.service.live.RecentChanges.Past;

class RecentChangesTests {
    private final RecentChanges changes = new RecentChanges();

    private static Changed change(int number) {
        return new Changed("case", "C-" + number, "passengers", "ines");
    }

    @Test
    void whatCameAfterAnIdIsToldInOrder() {
        assertThat(changes.since(null)).contains(java.util.List.of());
        String beginning = changes.newest();
        Past one = changes.add(change(1));
        Past two = changes.add(change(2));
        assertThat(changes.since(beginning).orElseThrow()).containsExactly(one, two);
        assertThat(changes.since(one.id()).orElseThrow()).containsExactly(two);
        assertThat(changes.since(two.id()).orElseThrow()).isEmpty();
    }

    @Test
    void whatCannotBeToldAnyMoreIsSaidToBeSo() {
        String beginning = changes.newest();
        IntStream.range(0, 2_001).forEach(i -> changes.add(change(i)));
        assertThat(changes.since(beginning)).as("long ago").isEmpty();
        assertThat(changes.since("00000000-3")).as("another start").isEmpty();
        assertThat(changes.since(beginning.replaceAll("-.*", "-999999")))
                .as("not told yet")
                .isEmpty();
        assertThat(changes.since("nonsense")).isEmpty();
    }
}
