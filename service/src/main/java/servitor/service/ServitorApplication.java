package servitor.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.context.properties.ConfigurationPropertiesScan;
import org.springframework.boot.web.server.autoconfigure.ServerProperties;
import org.springframework.boot.web.server.context.WebServerInitializedEvent;
import org.springframework.context.ApplicationListener;
import org.springframework.context.annotation.Bean;
import org.springframework.core.env.SimpleCommandLinePropertySource;

/** The long-running service. */
@SpringBootApplication
@ConfigurationPropertiesScan
public class ServitorApplication {
    private static final Logger LOG = LoggerFactory.getLogger(ServitorApplication.class);
    private static final List<String> KEPT = List.of("ledger.mv.db", "head", "keys");

    public static void main(String[] args) {
        // The database's own URL takes no relative paths.
        Path folder = Path.of(setting(args, "servitor.data", "SERVITOR_DATA", "./data/servitor"))
                .toAbsolutePath()
                .normalize();
        String shared = setting(args, "servitor.database", "SERVITOR_DATABASE", "");
        System.setProperty("servitor.data", folder.toString());
        System.setProperty("servitor.database", shared);
        System.setProperty(
                "servitor.database-url",
                shared.isBlank()
                        ? "jdbc:h2:async:" + folder + "/ledger;DB_CLOSE_ON_EXIT=FALSE;QUERY_CACHE_SIZE=200"
                        : shared);
        String fault = unusable(folder);
        if (fault != null) {
            System.err.println(fault);
            System.exit(1);
        }
        // what was settled here is no argument any more: it would stand before it
        SpringApplication.run(
                ServitorApplication.class,
                Stream.of(args)
                        .filter(arg -> !arg.startsWith("--servitor.data=") && !arg.startsWith("--servitor.database="))
                        .toArray(String[]::new));
    }

    /** A setting that is needed before anything starts: as an argument, a property of the machine, or a variable. */
    private static String setting(String[] args, String name, String variable, String otherwise) {
        String argument = new SimpleCommandLinePropertySource(args).getProperty(name);
        return argument != null
                ? argument
                : System.getProperty(name, System.getenv().getOrDefault(variable, otherwise));
    }

    /** Why the data folder can't be used; null when it can. What is kept there is its owner's alone. */
    private static @Nullable String unusable(Path folder) {
        try {
            OwnerOnly.folder(folder);
            Path probe = Files.createTempFile(folder, "probe", null);
            Files.writeString(probe, "can be written");
            Files.delete(probe);
            OwnerOnly.filesOf(folder);
            for (String name : KEPT) {
                Path file = folder.resolve(name);
                if (Files.exists(file) && !canBeWritten(file)) {
                    return "Servitor can't write to " + file + ".\n"
                            + "Give this user the right to write there; it holds what was acknowledged. Nothing was changed.";
                }
            }
            return null;
        } catch (IOException | UncheckedIOException e) {
            return "Servitor can't write to its data folder " + folder + " (" + e + ").\n"
                    + "Make room there or give this user the right to write, or name another folder with "
                    + "-Dservitor.data=DIR. Nothing was changed.";
        }
    }

    private static boolean canBeWritten(Path file) {
        try (FileChannel channel = FileChannel.open(file, StandardOpenOption.WRITE)) {
            return channel.isOpen();
        } catch (IOException e) {
            return false;
        }
    }

    /** Says where it listens, once it does. */
    @Bean
    ApplicationListener<WebServerInitializedEvent> listening(ServitorSettings settings, ServerProperties server) {
        return event -> LOG.info(
                "Servitor listens at http://{}:{}; its data is in {}.",
                server.getAddress() == null ? "*" : server.getAddress().getHostAddress(),
                event.getWebServer().getPort(),
                settings.data());
    }

    /** The one clock; nothing else asks for the time. */
    @Bean
    SteadyClock clock() {
        return new SteadyClock(Clock.systemUTC());
    }
}
