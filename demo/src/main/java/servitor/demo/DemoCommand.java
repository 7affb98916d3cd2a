package servitor.demo;

import ch.qos.logback.classic.Level;
import ch.qos.logback.classic.Logger;
import java.io.IOException;
import java.net.ConnectException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.logging.LogManager;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.LoggerFactory;
import org.springframework.util.FileSystemUtils;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import servitor.standins.Standins;

/** {@code servitor demo}: starts the service, the stand-ins and the demo data; or plays a scene in a running demo. */
@Command(
        name = "servitor demo",
        mixinStandardHelpOptions = true,
        description = "Start the service with demo data, or play a scene in the running demo.")
public final class DemoCommand implements Callable<Integer> {
    private static final int DAYS = 90;
    private static final List<String> SCENES =
            List.of("refunds", "mail", "forms", "documents", "events", "lines", "tracker");
    private static final String CONTROL_FILE = "standins.control";

    @Option(
            names = "--port",
            defaultValue = "8080",
            description =
                    "Where the service listens, on loopback (default: ${DEFAULT-VALUE}). The stand-ins take the fourteen ports after it.")
    private int port;

    @Option(
            names = "--data",
            defaultValue = "data/demo",
            description = "Where everything is kept (default: ${DEFAULT-VALUE}).")
    private Path data;

    @Option(names = "--fresh", description = "Throw the demo's data away and start over.")
    private boolean fresh;

    @Option(
            names = "--without-past",
            description = "Start with no past cases. With them, the first start takes a minute longer.")
    private boolean withoutPast;

    @Option(
            names = "--scene",
            description = "Play a scene in the running demo: refunds, mail, forms, documents, events, lines, tracker.")
    private @Nullable String scene;

    @Option(names = "--handbook", hidden = true, defaultValue = "demo/handbook")
    private Path handbook;

    public static void main(String[] args) {
        LogManager.getLogManager().reset(); // the stand-ins' libraries tell of every start
        ((Logger) LoggerFactory.getLogger(org.slf4j.Logger.ROOT_LOGGER_NAME)).setLevel(Level.WARN);
        CommandLine line = new CommandLine(new DemoCommand());
        line.setExecutionExceptionHandler((e, command, parsed) -> {
            command.getErr().println(e.getMessage() == null ? e.toString() : e.getMessage());
            return 1;
        });
        System.exit(line.execute(args));
    }

    @Override
    public Integer call() throws Exception {
        Path folder = data.toAbsolutePath().normalize();
        return scene == null ? serve(folder) : play(folder, scene);
    }

    private int play(Path folder, String name) throws IOException, InterruptedException {
        if (!SCENES.contains(name)) {
            System.err.println("There is no scene ‘" + name + "’. There are: " + String.join(", ", SCENES) + ".");
            return 2;
        }
        Path control = folder.resolve(CONTROL_FILE);
        if (!Files.exists(control)) {
            System.err.println("No demo runs on " + folder + ". Start it with ‘./servitor demo’ in another terminal.");
            return 3;
        }
        try {
            URI standIns = URI.create(Files.readString(control));
            switch (name) {
                case "mail" -> new MailScene(profiles(folder), standIns, System.out).play();
                case "forms" -> new FormScene(profiles(folder), standIns, System.out).play();
                case "documents" -> new DocumentScene(profiles(folder), standIns, System.out).play();
                case "events" -> new EventScene(profiles(folder), standIns, System.out).play();
                case "lines" -> new LineScene(profiles(folder), System.out).play();
                case "tracker" -> new TrackerScene(profiles(folder), standIns, System.out).play();
                default -> new RefundScene(profiles(folder), standIns, System.out).play();
            }
        } catch (ConnectException e) {
            System.err.println(
                    "The demo on " + folder + " doesn't answer. Start it with ‘./servitor demo’ in another terminal.");
            return 3;
        }
        return 0;
    }

    /** They live with the demo's data, so that no demo takes those of another, or of whoever runs it. */
    private static Path profiles(Path folder) {
        return folder.resolve("profiles");
    }

    private int serve(Path folder) throws Exception {
        if (fresh) {
            clear(folder);
        }
        Files.createDirectories(folder);
        if (!withoutPast && !Files.exists(folder.resolve("ledger.mv.db"))) {
            PastProcess.play(folder, handbook, DAYS);
        }
        try (Standins standins = new Standins(Standins.Ports.after(port), folder.resolve("standins"));
                ServiceProcess service = ServiceProcess.start(port, folder, jvmOptions())) {
            Runtime.getRuntime().addShutdownHook(new Thread(() -> stop(service, folder)));
            service.awaitReady(Duration.ofMinutes(3));
            Files.writeString(folder.resolve(CONTROL_FILE), standins.control().toString());
            new DemoSeeder(service.url(), folder, profiles(folder)).furnish(handbook, standins);
            welcome(folder, standins);
            System.out.println("Servitor is ready at " + service.url());
            return service.waitFor() == 0 ? 0 : 1;
        }
    }

    private static void stop(ServiceProcess service, Path folder) {
        service.close();
        try {
            Files.deleteIfExists(folder.resolve(CONTROL_FILE));
        } catch (IOException e) {
            System.err.println(CONTROL_FILE + " could not be removed: " + e.getMessage());
        }
    }

    private static List<String> jvmOptions() {
        String options = System.getenv("SERVITOR_SERVICE_OPTIONS");
        return options == null || options.isBlank()
                ? List.of()
                : List.of(options.strip().split("\\s+"));
    }

    /** Removes only a folder that a demo made, so that a mistyped --data costs nothing. */
    private static void clear(Path folder) throws IOException {
        if (!Files.exists(folder)) {
            return;
        }
        boolean ours = Files.exists(folder.resolve("ledger.mv.db")) || Files.exists(folder.resolve("service.log"));
        try (Stream<Path> all = Files.list(folder)) {
            if (!ours && all.findAny().isPresent()) {
                throw new IllegalArgumentException(folder
                        + " doesn't look like a demo's folder, so --fresh leaves it alone. Name another with --data.");
            }
        }
        FileSystemUtils.deleteRecursively(folder);
    }

    private void welcome(Path folder, Standins standins) {
        System.out.println();
        System.out.println(
                "Skerry Line, a ferry company that does not exist. Everybody's password is " + Cast.PASSWORD + ":");
        Cast.ALL.forEach(member -> System.out.printf("  %-8s %-16s %s%n", member.id(), member.name(), member.work()));
        System.out.printf("  %-8s %-16s %s%n", "admin", "Administrator", "people, connections, backups");
        System.out.println();
        if (!folder.equals(Path.of("data/demo").toAbsolutePath().normalize())) {
            System.out.println("The profiles of this demo:  export SERVITOR_DEMO_PROFILES=" + profiles(folder));
        }
        String which = data.equals(Path.of("data/demo")) ? "" : " --data " + data;
        System.out.println("Try: ./servitor demo --scene refunds" + which);
        System.out.println("     ./servitor demo --scene mail" + which);
        System.out.println("     ./servitor demo --scene documents" + which);
        System.out.println("     ./servitor demo --scene events" + which);
        System.out.println("     ./servitor --as osei approval list");
        System.out.println("     ./servitor --as noor trail verify");
        MailScene.welcome(standins.mail()).forEach(System.out::println);
        System.out.println(
                "The models and outside systems are stand-ins on this machine. Log: " + folder.resolve("service.log"));
        System.out.println();
    }
}
