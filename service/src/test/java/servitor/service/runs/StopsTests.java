package servitor.service.runs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.engine.Stop;
import servitor.service.ledger.MemoryHouse;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import servitor.service.people.Role;

/** Who may stop what, without a process or a port. */
class StopsTests {
    @TempDir
    private Path data;

    private MemoryHouse house;
    private Stops stops;
    private Person maren;
    private Person admin;

    @BeforeEach
    void open() {
        house = new MemoryHouse("stops", data);
        stops = house.get(Stops.class);
        maren = house.person("maren", Set.of(Role.ENGINEER), "passengers");
        admin = house.person("admin", Set.of(Role.ADMIN));
    }

    @AfterEach
    void close() {
        house.close();
    }

    @Test
    void engineersStopWhatWorksForTheirDesksAndAdminsAnything() {
        Person other = house.person("ola", Set.of(Role.ENGINEER), "people");

        assertThat(stops.stop(maren, Stop.What.AGENT, "purser", "Odd answers").name())
                .isEqualTo("purser");
        assertThat(stops.may(other, Stop.What.AGENT, "purser")).isFalse();
        assertThatThrownBy(() -> stops.stop(other, Stop.What.AGENT, "purser", "No"))
                .isInstanceOf(NotAllowed.class);
        assertThatThrownBy(() -> stops.lift(other, Stop.What.AGENT, "purser", "No"))
                .isInstanceOf(NotAllowed.class);
        assertThat(stops.stop(admin, Stop.What.CONNECTION, "fares", "Down").what())
                .isEqualTo(Stop.What.CONNECTION);
        assertThat(stops.all()).extracting(Stop::name).containsExactlyInAnyOrder("purser", "fares");
    }

    @Test
    void whatIsLetGoOnStandsOnTheTrailAndOnlyWhatStandsStillCanBe() {
        stops.stop(maren, Stop.What.AGENT, "purser", "Odd answers");
        stops.lift(maren, Stop.What.AGENT, "purser", "Mended");

        assertThat(stops.all()).isEmpty();
        assertThat(house.trail("")).containsSubsequence("stopped", "stop-lifted");
        assertThatThrownBy(() -> stops.lift(maren, Stop.What.AGENT, "purser", "Again"))
                .hasMessageContaining("isn't stopped");
    }

    @Test
    void whatNobodyKnowsCannotBeStopped() {
        assertThatThrownBy(() -> stops.stop(admin, Stop.What.AGENT, "nobody", "x"))
                .isInstanceOf(RuntimeException.class);
        assertThat(stops.all()).isEmpty();
    }
}
