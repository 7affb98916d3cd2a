package servitor.service.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.mock;

import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.mockito.AdditionalAnswers;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.Durability;
import servitor.service.ServitorSettings;
import servitor.service.SteadyClock;
import servitor.service.Unavailable;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;

/** The writer where something breaks under it: what it acknowledged is kept, and nothing is done twice. */
class WriterTests {
    @TempDir
    Path data;

    private TrailMapper trail;
    private final MemoryDatabase database = new MemoryDatabase("writer", real -> {
        trail = mock(TrailMapper.class, AdditionalAnswers.delegatesTo(real));
        return trail;
    });
    private final PersonStore people = database.get(PersonStore.class);
    private final CompletableFuture<String> ended = new CompletableFuture<>();
    private Writer writer;

    WriterTests() {
        database.empty();
    }

    @AfterEach
    void close() {
        if (writer != null) {
            writer.close();
        }
    }

    /** What the process would do: nobody writes any more. */
    private static final class Halted extends Error {
        private static final long serialVersionUID = 1L;
    }

    private Writer start(boolean acceptLoss) {
        ServitorSettings settings = new ServitorSettings(
                data,
                "",
                data.resolve("keys"),
                URI.create("http://127.0.0.1"),
                Durability.PROCESS,
                Duration.ofSeconds(30),
                Duration.ofMinutes(1),
                Duration.ZERO,
                Duration.ofDays(14),
                60,
                Duration.ofSeconds(1),
                java.util.List.of(),
                acceptLoss);
        writer = new Writer(
                database.trail(),
                database.get(InstallationMapper.class),
                database.get(EngineStores.class),
                new SteadyClock(Clock.systemUTC()),
                database.transactions,
                settings,
                (why, cause) -> {
                    ended.complete(why);
                    throw new Halted();
                });
        return writer;
    }

    private static PersonRow person(LedgerTransaction tx, String id) {
        return new PersonRow(id, id, "", "", null, "requester", tx.now(), "", null, null);
    }

    private String insert(String id) {
        return writer.write(tx -> {
            people.insert(tx, person(tx, id));
            tx.trail("", "", new TrailEvent(TrailEvent.SYSTEM, TrailWord.PERSON_CHANGED, "", Json.object()));
            return id;
        });
    }

    private int people() {
        return database.sql.queryForObject("select count(*) from person", Integer.class);
    }

    @Test
    void aCheckpointThatFailsEndsTheProcessAndNothingIsBuiltTwice() throws Exception {
        start(false);
        insert("ines");
        doThrow(new IllegalStateException("no room")).when(trail).checkpoint();
        AtomicInteger built = new AtomicInteger();
        CompletableFuture<String> acknowledged = writer.submit(tx -> {
            built.incrementAndGet();
            people.insert(tx, person(tx, "maren"));
            return "maren";
        });
        assertThat(ended.get(10, TimeUnit.SECONDS)).contains("can't be acknowledged");
        assertThat(built).hasValue(1);
        assertThat(people()).isEqualTo(2);
        assertThat(acknowledged).as("nobody is told what isn't durable").isNotCompleted();
    }

    @Test
    void aHeadFileThatCannotBeWrittenEndsTheProcessAndNothingIsBuiltTwice() throws Exception {
        start(false);
        AtomicInteger built = new AtomicInteger();
        writer.submit(tx -> {
            built.incrementAndGet();
            people.insert(tx, person(tx, "maren"));
            Thread.currentThread().interrupt(); // closes the file under the write
            return "maren";
        });
        assertThat(ended.get(10, TimeUnit.SECONDS)).contains("can't be acknowledged");
        assertThat(built).hasValue(1);
        assertThat(people()).isEqualTo(1);
    }

    @Test
    void anErrorInAChangeEndsTheProcessInsteadOfTheWriterAlone() throws Exception {
        start(false);
        writer.submit(tx -> {
            throw new OutOfMemoryError("a monstrous number");
        });
        assertThat(ended.get(10, TimeUnit.SECONDS)).contains("broke");
        assertThat(people()).isZero();
    }

    @Test
    void aChangeThatFailsTouchesNobodyElses() {
        start(false);
        insert("ines");
        assertThatThrownBy(() -> writer.write(tx -> {
                    people.insert(tx, person(tx, "maren"));
                    throw new IllegalArgumentException("not like this");
                }))
                .hasMessage("not like this");
        assertThat(insert("osei")).isEqualTo("osei");
        assertThat(people()).isEqualTo(2);
        assertThat(ended).isNotDone();
    }

    @Test
    void whileTheServiceEndsNothingIsTakenAndThatIsSaid() {
        start(false);
        insert("ines");
        writer.close();
        assertThatThrownBy(() -> insert("maren"))
                .isInstanceOf(Unavailable.class)
                .hasMessageContaining("Nothing was changed");
        assertThat(people()).isEqualTo(1);
    }

    @Test
    void aMissingHeadFileIsRefusedUntilItIsAcceptedWhichIsOnTheTrail() throws Exception {
        start(false);
        insert("ines");
        String before = database.sql.queryForObject("select epoch from installation", String.class);
        writer.close();
        Files.delete(data.resolve("head"));
        assertThatThrownBy(() -> start(false)).isInstanceOf(LedgerBehind.class);
        start(true);
        assertThat(database.sql.queryForObject("select what from trail order by seq desc limit 1", String.class))
                .isEqualTo("loss-accepted");
        assertThat(database.sql.queryForObject("select epoch from installation", String.class))
                .as("keys of calls from here on are no keys of before")
                .isNotEqualTo(before);
    }

    @Test
    void anUnreadableHeadFileIsAsGoodAsNone() throws Exception {
        start(false);
        insert("ines");
        writer.close();
        Files.writeString(data.resolve("head"), "x".repeat(512));
        assertThatThrownBy(() -> start(false)).isInstanceOf(LedgerBehind.class);
    }
}
