package servitor.core.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Random;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Function;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.engine.Work.Stage;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import tools.jackson.databind.JsonNode;

/** What came of a call stands, even where the run breaks on taking it in: people let it go on, and nothing is called again. */
class SetAsideTests {
    private static final Instant NOW = Instant.parse("2026-06-01T10:00:00Z");
    private static final String BOOKING = """
            {"reference":"SK-48213","owner":"P-1","passenger":"Ines","paid":84.50,"currency":"EUR","refunded":false,
             "sailing":{"number":"S-311","ship":"Long Eddy","from":"A","to":"B","departs":"2026-06-01T08:00","state":"cancelled"}}""";

    private final MemoryStore store = new MemoryStore(() -> NOW, new Calm(), Mirror.NONE);
    private final Engine engine = new Engine(new OneEdition(
            new Edition(1, CheckedHandbook.of(DemoHandbook.files()).handbook())));
    private final WorkLeases claims =
            new WorkLeases(engine, "one", WorkLeases.LEASE, WorkLeases.LONGEST_CALL, new Random(1));

    private <T> T write(Function<EngineStore, T> work) {
        AtomicReference<T> result = new AtomicReference<>();
        store.asSeenByAProcess().commit(books -> result.set(work.apply(books)));
        return result.get();
    }

    private Work take(Stage stage) {
        return write(books -> claims.take(
                        books,
                        books.workIn(stage, "").stream()
                                .filter(work -> work.command() instanceof Command.CallTool)
                                .toList())
                .get(0));
    }

    /** What waits to be carried out, beside the timer of the run's own deadline. */
    private List<Work> pending() {
        return write(books -> books.workIn(Stage.PENDING, "").stream()
                .filter(work -> !(work.command() instanceof Command.SetTimer))
                .toList());
    }

    private static RunInput answered(Work work, String answer) {
        return new RunInput.ToolAnswered(work.id(), Json.read(answer, JsonNode.class));
    }

    @Test
    void whatCameOfACallStandsAndTheRunGoesOnFromItWithoutAnother() {
        write(books -> {
            store.openCase(books, "C-1", "refund", Json.object().put("booking", "SK-48213"));
            return engine.open(books, "C-1", "refund");
        });
        Work lookup = take(Stage.PENDING);
        write(books -> {
            claims.settle(books, lookup, new Outcome.Done(answered(lookup, BOOKING)));
            return null;
        });
        Work payment = take(Stage.PENDING);
        Outcome paid = new Outcome.Done(answered(
                payment, "{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":84.50,\"currency\":\"EUR\"}"));

        write(books -> {
            claims.setAside(books, payment, paid, "an error nobody foresaw");
            return null;
        });

        Stage stage = write(books -> books.work(payment.id()).orElseThrow().stage());
        assertThat(stage).isEqualTo(Stage.DONE);
        assertThat(pending()).isEmpty();
        List<Trouble> troubles = store.all(MemoryBooks.KeptTrouble.class).stream()
                .map(MemoryBooks.KeptTrouble::trouble)
                .toList();
        assertThat(troubles).hasSize(1);

        write(books -> {
            new RunControl(engine).retry(books, troubles.get(0).id(), "osei", "It is mended.");
            return null;
        });
        assertThat(pending())
                .as("the answer is written next; nothing is paid again")
                .singleElement()
                .satisfies(next -> assertThat(next.command()).isInstanceOf(Command.AskModel.class));
    }

    @Test
    void aLeaseThatACallCouldOutlastIsRefused() {
        assertThatThrownBy(() ->
                        new WorkLeases(engine, "one", Duration.ofSeconds(5), WorkLeases.LONGEST_CALL, new Random(1)))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("longer than the longest call");
        assertThat(claims.mayBeSent(Duration.ofSeconds(59))).isTrue();
        assertThat(claims.mayBeSent(Duration.ofSeconds(61)))
                .as("it could be in flight when the lease is over")
                .isFalse();
    }
}
