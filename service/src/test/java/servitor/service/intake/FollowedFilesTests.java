package servitor.service.intake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.DemoHandbook;
import servitor.service.Precondition;
import servitor.service.connections.Connections;
import servitor.service.connections.Connections.Settings;
import servitor.service.editions.Editions;
import servitor.service.ledger.MemoryHouse;
import servitor.service.ledger.Writer;
import servitor.service.runs.Stops;

/** Files that are followed: no line is missing, and none counts twice. */
class FollowedFilesTests {
    private static final String INTAKE = """
            title: A log
            from: lines
            connection: a-log
            pattern: '(?P<thing>.+)'
            kind: lost-thing
            requester: finder
            subject: "${message.thing}"
            fields: { thing: "${message.thing}" }
            """;

    @TempDir
    private Path data;

    private MemoryHouse house;
    private FollowedFiles files;
    private Path log;

    @BeforeEach
    void open() {
        house = new MemoryHouse("followed", data);
        house.change("update person set id = id"); // the tables are there
        house.person("finder", java.util.Set.of(servitor.service.people.Role.REQUESTER));
        TreeMap<String, String> handbook = new TreeMap<>(DemoHandbook.files());
        handbook.keySet().removeIf(name -> name.startsWith("intake/") || name.startsWith("rehearsals/"));
        handbook.remove("runbooks/repair-order-ready.md"); // they wait for what isn't read any more
        handbook.remove("runbooks/kiosk-down.md");
        handbook.put("intake/a-log.yaml", INTAKE);
        house.get(Editions.class).publish(handbook, "", "admin");
        log = data.resolve("things.log");
        set(log);
        files = house.get(FollowedFiles.class);
    }

    @AfterEach
    void close() {
        house.close();
    }

    private void set(Path path) {
        house.get(Connections.class)
                .put("a-log", new Settings("file:" + path, null, null, null), "admin", Precondition.NONE);
    }

    private void write(Path path, String text) throws IOException {
        Files.writeString(path, text, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }

    /** As another process has it, which waits for nothing yet. */
    private FollowedFiles startedAnew() {
        return new FollowedFiles(
                house.get(Editions.class),
                house.get(Intakes.class),
                house.get(Connections.class),
                house.get(FollowedStore.class),
                house.get(EventIntake.class),
                house.get(Stops.class),
                house.get(Writer.class),
                Clock.systemUTC());
    }

    private String subjects() {
        return house.row(
                        "select coalesce(listagg(subject, ' ') within group (order by number), '') as s from case_record")
                .get("S")
                .toString();
    }

    private String trouble() {
        return house.row("select trouble from followed_file").get("TROUBLE").toString();
    }

    @Test
    void whatComesIsTakenInOnceAndALineThatIsBeingWrittenIsAwaited() throws IOException {
        files.look();
        write(log, "coat\numbre");
        files.look();
        files.look();
        assertThat(subjects()).isEqualTo("coat");
        write(log, "lla\n");
        files.look();
        assertThat(subjects()).isEqualTo("coat umbrella");
    }

    @Test
    void ofAFileThatIsThereAlreadyOnlyWhatComesIsTakenIn() throws IOException {
        write(log, "old\n");
        files.look();
        write(log, "new\n");
        files.look();
        assertThat(subjects()).isEqualTo("new");
    }

    @Test
    void aFileThatIsMovedAwayIsReadToItsEndFirst() throws IOException {
        files.look();
        write(log, "a\n");
        files.look();
        write(log, "b\nc\n");
        Files.move(log, data.resolve("things.log.1"));
        files.look(); // there is none of its name at this moment
        write(log, "d\n");
        write(data.resolve("other.log"), "x\n");
        files.look();
        assertThat(subjects()).isEqualTo("a b c d");
        assertThat(trouble()).isEmpty();
    }

    @Test
    void aFileThatIsEmptiedBeginsAnew() throws IOException {
        files.look();
        write(log, "a long line\n");
        files.look();
        Files.writeString(log, "b\n");
        files.look();
        assertThat(subjects()).isEqualTo("a long line b");
    }

    @Test
    void ofAFileThatIsGoneBeforeItWasReadItIsSaidThatLinesMayBeMissing(@TempDir Path elsewhere) throws IOException {
        write(log, "a\n");
        files.look();
        write(log, "b\n");
        Files.move(log, elsewhere.resolve("things.log"));
        write(log, "c\n");
        files.look();
        assertThat(subjects()).isEqualTo("c");
        assertThat(house.get(EventIntake.class).refusals("a-log"))
                .extracting(RefusalRow::reason)
                .containsExactly(
                        "a file was replaced before all of it was read, and isn't found beside the new one: lines may be missing");
    }

    @Test
    void aServiceThatDiesInBetweenTakesTheSameLinesInOnce() throws IOException {
        files.look();
        write(log, "a\n");
        files.look();
        write(log, "b\n");
        files.look();
        write(log, "c\n");
        house.change("update followed_file set read_to = 2"); // it had taken them in, and not noted that
        files.look();
        files.look();
        assertThat(subjects()).isEqualTo("a b c");
    }

    @Test
    void tooManyCasesWaitInTheFile() throws IOException {
        files.look();
        StringBuilder lines = new StringBuilder();
        for (int i = 0; i < MemoryHouse.CASES_PER_HOUR + 1; i++) {
            lines.append("thing").append(i).append('\n');
        }
        write(log, lines.toString());
        files.look();
        assertThat(subjects()).isEqualTo("thing0 thing1 thing2 thing3 thing4");
        assertThat(trouble()).contains("cases were opened for the same person");
        house.change("update case_record set created = dateadd('HOUR', -2, created)");
        startedAnew().look();
        assertThat(subjects()).isEqualTo("thing0 thing1 thing2 thing3 thing4 thing5");
        assertThat(trouble()).isEmpty();
    }

    @Test
    void nobodyPostsToAFileAndNoAdminNamesOneElsewhere() {
        assertThatThrownBy(() -> set(Path.of("/etc/passwd")))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("may be followed");
        assertThatThrownBy(() -> house.get(Hooks.class)
                        .takeSigned("a-log", new Hooks.Posted("text/plain", name -> null, "x\n".getBytes())))
                .isInstanceOf(Hooks.NotSetUp.class);
    }
}
