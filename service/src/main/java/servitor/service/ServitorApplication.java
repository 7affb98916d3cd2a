package servitor.service;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.context.properties.ConfigurationPropertiesScan;
import org.springframework.context.annotation.Bean;

/** The long-running service. */
@SpringBootApplication
@ConfigurationPropertiesScan
public class ServitorApplication {

    public static void main(String[] args) {
        String data =
                System.getProperty("servitor.data", System.getenv().getOrDefault("SERVITOR_DATA", "./data/servitor"));
        // The database's own URL takes no relative paths.
        Path folder = Path.of(data).toAbsolutePath().normalize();
        System.setProperty("servitor.data", folder.toString());
        String shared = System.getProperty("servitor.database", System.getenv().getOrDefault("SERVITOR_DATABASE", ""));
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
        SpringApplication.run(ServitorApplication.class, args);
    }

    /** Why the data folder can't be used; null when it can. */
    private static @Nullable String unusable(Path folder) {
        try {
            Files.createDirectories(folder);
            Path probe = Files.createTempFile(folder, "probe", null);
            Files.writeString(probe, "can be written");
            Files.delete(probe);
            return null;
        } catch (IOException e) {
            return "Servitor can't write to its data folder " + folder + " (" + e + ").\n"
                    + "Make room there or give this user the right to write, or name another folder with -Dservitor.data=DIR. Nothing was changed.";
        }
    }

    /** The one clock; nothing else asks for the time. */
    @Bean
    Clock clock() {
        return Clock.systemUTC();
    }
}
