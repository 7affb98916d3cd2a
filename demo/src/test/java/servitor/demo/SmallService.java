package servitor.demo;

import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Map;
import java.util.Set;
import org.springframework.boot.SpringBootConfiguration;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.autoconfigure.AutoConfigurationPackage;
import org.springframework.boot.autoconfigure.EnableAutoConfiguration;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.boot.context.properties.EnableConfigurationProperties;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.ComponentScan;
import servitor.cli.command.HandbookFolder;
import servitor.core.json.Json;
import servitor.service.ServitorSettings;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.connections.Connections;
import servitor.service.editions.Editions;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.PersonRow;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;
import servitor.service.people.Role;

/**
 * The service without its web layer: ledger, engine and dispatch as a process of its own that can be killed. It opens a
 * case for every booking it reads, and prints the case once that is acknowledged.
 */
public final class SmallService {
    private SmallService() {}

    @SpringBootConfiguration
    @EnableAutoConfiguration(
            excludeName = {
                "org.springframework.boot.security.autoconfigure.SecurityAutoConfiguration",
                "org.springframework.boot.security.autoconfigure.UserDetailsServiceAutoConfiguration"
            })
    @AutoConfigurationPackage(basePackages = "servitor.service")
    @EnableConfigurationProperties(ServitorSettings.class)
    @ComponentScan({
        "servitor.service.ledger",
        "servitor.service.runs",
        "servitor.service.dispatch",
        "servitor.service.approvals",
        "servitor.service.editions",
        "servitor.service.cases",
        "servitor.service.connections"
    })
    static class Setup {
        @Bean
        Clock clock() {
            return Clock.systemUTC();
        }
    }

    public static void main(String[] args) throws Exception {
        String data = args[0];
        System.setProperty("servitor.data", data);
        System.setProperty("servitor.database-url", "jdbc:h2:async:" + data + "/ledger;DB_CLOSE_ON_EXIT=FALSE");
        ConfigurableApplicationContext context = new SpringApplicationBuilder(Setup.class)
                .web(WebApplicationType.NONE)
                .run();
        context.getBean(Connections.class).put("fares", args[1], "admin");
        context.getBean(Connections.class).put("models", args[2], "admin");
        Writer writer = context.getBean(Writer.class);
        if (context.getBean(Ledger.class).person("ines").isEmpty()) {
            writer.write(writing -> {
                writing.insertPerson(new PersonRow(
                        "ines", "Ines", "ines@skerryline.example", "P-1042", null, "requester", writing.now(), ""));
                return null;
            });
        }
        if (context.getBean(Ledger.class).newestEdition().isEmpty()) {
            context.getBean(Editions.class).publish(HandbookFolder.read(Path.of("handbook")), "", "admin");
        }
        Cases cases = context.getBean(Cases.class);
        Person ines = new Person("ines", "Ines", "", "P-1042", Set.of(Role.REQUESTER), Set.of(), Set.of());
        System.out.println("READY");
        BufferedReader in = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        for (String booking = in.readLine(); booking != null; booking = in.readLine()) {
            String id = cases.open(
                            ines,
                            new NewCase("refund", booking, "Please.", "en", null, Map.of("booking", Json.of(booking))),
                            booking)
                    .id();
            System.out.println("ACKNOWLEDGED " + id + " " + booking);
        }
        context.close();
    }
}
