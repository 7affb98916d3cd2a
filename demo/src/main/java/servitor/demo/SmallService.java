package servitor.demo;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.mybatis.spring.boot.autoconfigure.MybatisAutoConfiguration;
import org.springframework.boot.SpringBootConfiguration;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.autoconfigure.AutoConfigurationPackage;
import org.springframework.boot.autoconfigure.ImportAutoConfiguration;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.boot.context.properties.EnableConfigurationProperties;
import org.springframework.boot.flyway.autoconfigure.FlywayAutoConfiguration;
import org.springframework.boot.jdbc.autoconfigure.DataSourceAutoConfiguration;
import org.springframework.boot.jdbc.autoconfigure.DataSourceTransactionManagerAutoConfiguration;
import org.springframework.boot.transaction.autoconfigure.TransactionAutoConfiguration;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.annotation.ComponentScan;
import org.springframework.context.annotation.Import;
import org.springframework.context.support.GenericApplicationContext;
import servitor.cli.command.HandbookFolder;
import servitor.core.json.Json;
import servitor.service.Precondition;
import servitor.service.ServitorSettings;
import servitor.service.SteadyClock;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.connections.Connections;
import servitor.service.editions.EditionStore;
import servitor.service.editions.Editions;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Guests;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;
import servitor.service.people.Role;

/**
 * The service without its web layer: ledger, engine and dispatch as a process of its own that can be killed. It opens a
 * case for every booking it reads, and prints the case once that is acknowledged.
 */
public final class SmallService {
    private SmallService() {}

    @SpringBootConfiguration
    @ImportAutoConfiguration({
        DataSourceAutoConfiguration.class,
        DataSourceTransactionManagerAutoConfiguration.class,
        TransactionAutoConfiguration.class,
        FlywayAutoConfiguration.class,
        MybatisAutoConfiguration.class
    })
    @AutoConfigurationPackage(basePackages = "servitor.service")
    @EnableConfigurationProperties(ServitorSettings.class)
    @ComponentScan({
        "servitor.service.ledger",
        "servitor.service.engine",
        "servitor.service.runs",
        "servitor.service.dispatch",
        "servitor.service.approvals",
        "servitor.service.editions",
        "servitor.service.cases",
        "servitor.service.connections",
        "servitor.service.intake",
        "servitor.service.forms",
        "servitor.service.reading",
        "servitor.service.messages"
    })
    @Import({PeopleReader.class, PersonStore.class, Guests.class})
    static class Setup {}

    /** Starts it on a data folder, with the handbook, one passenger, one approver, and its outside systems at these addresses. */
    static ConfigurableApplicationContext start(Path data, Path handbook, String fares, String models)
            throws IOException {
        return start(data, handbook, fares, models, Clock.systemUTC());
    }

    /** The same, by another clock. */
    static ConfigurableApplicationContext start(Path data, Path handbook, String fares, String models, Clock clock)
            throws IOException {
        System.setProperty("servitor.data", data.toString());
        System.setProperty("servitor.cases-per-hour", "0"); // one passenger stands for all
        System.setProperty(
                "servitor.database-url",
                "jdbc:h2:async:" + data + "/ledger;DB_CLOSE_ON_EXIT=FALSE;QUERY_CACHE_SIZE=200");
        ConfigurableApplicationContext context = new SpringApplicationBuilder(Setup.class)
                .web(WebApplicationType.NONE)
                .initializers(starting -> ((GenericApplicationContext) starting)
                        .registerBean("clock", SteadyClock.class, () -> new SteadyClock(clock)))
                .run();
        context.getBean(Connections.class).put("fares", inside(fares), "admin", Precondition.NONE);
        context.getBean(Connections.class).put("models", inside(models), "admin", Precondition.NONE);
        PersonStore people = context.getBean(PersonStore.class);
        if (people.find("ines").isEmpty()) {
            context.getBean(Writer.class).write(tx -> {
                people.insert(tx, person(tx, "ines", "P-1042", Role.REQUESTER));
                people.insert(tx, person(tx, "osei", "", Role.APPROVER));
                people.setMemberships(tx, "osei", Set.of("passengers"), Set.of());
                return null;
            });
        }
        if (context.getBean(EditionStore.class).newest().isEmpty()) {
            context.getBean(Editions.class).publish(HandbookFolder.read(handbook), "", "admin");
        }
        return context;
    }

    private static PersonRow person(LedgerTransaction tx, String id, String account, Role role) {
        String name = id.substring(0, 1).toUpperCase(Locale.ROOT) + id.substring(1);
        String address = id + "@skerryline.example";
        return new PersonRow(id, name, address, account, null, role.word(), tx.now(), "", null, null);
    }

    /** Opens a refund case for a booking, as the passenger; gives its id once it is acknowledged. */
    static String open(Cases cases, String booking) {
        Person ines = new Person("ines", "Ines", "", "P-1042", Set.of(Role.REQUESTER), Set.of(), Set.of());
        NewCase wanted = new NewCase("refund", booking, "Please.", "en", null, Map.of("booking", Json.of(booking)));
        return cases.open(ines, wanted, booking).id();
    }

    public static void main(String[] args) throws Exception {
        ConfigurableApplicationContext context = start(Path.of(args[0]), Path.of("handbook"), args[1], args[2]);
        Cases cases = context.getBean(Cases.class);
        System.out.println("READY");
        BufferedReader in = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        for (String booking = in.readLine(); booking != null; booking = in.readLine()) {
            System.out.println("ACKNOWLEDGED " + open(cases, booking) + " " + booking);
        }
        context.close();
    }

    private static Connections.Settings inside(String url) {
        return new Connections.Settings(url, null, null, true);
    }
}
