package servitor.service.people;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.service.ledger.MemoryHouse;

/** How many people could really answer: whoever asks, wrote it or is left out isn't one of them, nor who only works at a desk. */
class EligibleTests {
    @TempDir
    private Path data;

    private MemoryHouse house;

    @BeforeEach
    void open() {
        house = new MemoryHouse("eligible", data);
        house.person("tove", Set.of(Role.RESOLVER), "it");
        house.person("udo", Set.of(Role.APPROVER), "it");
        house.person("vera", Set.of(Role.ENGINEER), "it");
    }

    @AfterEach
    void close() {
        house.close();
    }

    private int eligible(Set<String> of, String... not) {
        return house.get(PersonStore.class).eligible(of, Set.of(not));
    }

    @Test
    void aDeskStandsForThoseWhoApproveOrResolveThere() {
        assertThat(eligible(Set.of("it"))).isEqualTo(2);
        assertThat(eligible(Set.of("it", "person:vera"))).isEqualTo(3);
        assertThat(eligible(Set.of())).isZero();
        assertThat(eligible(Set.of("people"))).isZero();
    }

    @Test
    void whoAsksOrIsLeftOutIsNone() {
        assertThat(eligible(Set.of("it"), "person:tove")).isEqualTo(1);
        assertThat(eligible(Set.of("it"), "person:tove", "person:udo")).isZero();
        assertThat(eligible(Set.of("person:udo"), "it"))
                .as("all of a desk are left out")
                .isZero();
    }
}
