package servitor.service;

import java.nio.file.Path;
import java.time.Clock;
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
        System.setProperty(
                "servitor.data", Path.of(data).toAbsolutePath().normalize().toString());
        SpringApplication.run(ServitorApplication.class, args);
    }

    /** The one clock; nothing else asks for the time. */
    @Bean
    Clock clock() {
        return Clock.systemUTC();
    }
}
