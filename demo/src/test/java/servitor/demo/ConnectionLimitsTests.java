package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.service.Precondition;
import servitor.service.cases.Cases;
import servitor.service.connections.Connections;
import servitor.service.runs.CommandRow;
import servitor.service.runs.RunStore;
import servitor.service.runs.WorkStore;
import servitor.standins.Standins;

/** What waits for one connection holds up nothing that goes out by another. */
class ConnectionLimitsTests {
    private static final int MORE_THAN_ANYBODY_LOOKS_AT = 60;

    @Test
    void aConnectionThatNeverAnswersHoldsUpNoOther(@TempDir Path folder) throws Exception {
        try (ServerSocket silent = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
                Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext context = SmallService.start(
                        Files.createDirectories(folder.resolve("data")),
                        Path.of("handbook"),
                        standins.fares().url().toString(),
                        "http://127.0.0.1:" + silent.getLocalPort())) {
            context.getBean(Connections.class)
                    .put("models", new Connections.Settings(null, 1, null, null), "admin", Precondition.NONE);
            for (int i = 0; i < MORE_THAN_ANYBODY_LOOKS_AT; i++) {
                asksTheModel(context, "SK-65%04d".formatted(i));
            }
            RunStore runStore = context.getBean(RunStore.class);
            WorkStore workStore = context.getBean(WorkStore.class);

            List<CommandRow> asked = runStore.active(1_000).stream()
                    .flatMap(run -> workStore.ofRun(run.id()).stream())
                    .filter(command -> command.kind().equals("ask-model"))
                    .toList();
            assertThat(asked).hasSize(MORE_THAN_ANYBODY_LOOKS_AT);
            assertThat(asked)
                    .filteredOn(command -> command.state().equals("taken"))
                    .as("one at once, and it never ends")
                    .hasSizeLessThanOrEqualTo(1);
            silent.close(); // breaks off the call, so that the service needn't wait for it to end
        }
    }

    /** Opens a case; its first tool goes out by one connection, the model after it by the silent one. */
    private static void asksTheModel(ConfigurableApplicationContext context, String booking) {
        RunStore runStore = context.getBean(RunStore.class);
        WorkStore workStore = context.getBean(WorkStore.class);

        String id = SmallService.open(context.getBean(Cases.class), booking);
        String run = runStore.ofCase(id).get(0).id();
        Household.await(
                "the model's turn in " + id,
                () -> workStore.ofRun(run).stream()
                        .anyMatch(command -> command.kind().equals("ask-model")));
    }
}
