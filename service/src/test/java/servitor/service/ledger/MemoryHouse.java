package servitor.service.ledger;

import java.net.URI;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import java.util.Set;
import org.springframework.context.annotation.AnnotationConfigApplicationContext;
import org.springframework.context.annotation.ComponentScan;
import org.springframework.context.annotation.ComponentScan.Filter;
import org.springframework.context.annotation.FilterType;
import org.springframework.security.crypto.password.NoOpPasswordEncoder;
import org.springframework.security.crypto.password.PasswordEncoder;
import servitor.core.DemoHandbook;
import servitor.service.Durability;
import servitor.service.Precondition;
import servitor.service.ServitorSettings;
import servitor.service.SteadyClock;
import servitor.service.editions.Editions;
import servitor.service.people.People;
import servitor.service.people.People.PersonDetails;
import servitor.service.people.Person;
import servitor.service.people.Role;

/**
 * The services of the house on tables in memory, with the demo's handbook published: what they decide can be asked without a process, a port
 * or a dispatcher, so that nothing is carried out.
 */
public final class MemoryHouse implements AutoCloseable {
    /** How many cases may be opened for one person within an hour. */
    public static final int CASES_PER_HOUR = 5;

    private final MemoryDatabase database;
    private final AnnotationConfigApplicationContext context = new AnnotationConfigApplicationContext();

    @ComponentScan(
            basePackages = "servitor.service",
            useDefaultFilters = false,
            includeFilters =
                    @Filter(
                            type = FilterType.REGEX,
                            pattern =
                                    "servitor\\.service\\.(ledger\\.Writer|editions\\.Editions|runs\\.(EngineSetup|RunSteering|Stops)"
                                            + "|cases\\.(Cases|RelatedCases|Documents|Events|CaseSearch)|people\\.(People|PeopleReader|Guests)|approvals\\.Approvals"
                                            + "|intake\\.(Hooks|EventIntake|ScheduledIntake|Intakes|Requesters|OpenCases|FollowedFiles)"
                                            + "|reading\\.(Readings|ReadingSetup)|forms\\.(PublicForms|FormStore|FormLinks|GuestCases)|connections\\.(Connections|ConnectorsSetup))"))
    static class Services {}

    @SuppressWarnings("deprecation") // passwords are tested elsewhere
    public MemoryHouse(String name, Path data) {
        database = new MemoryDatabase(name);
        database.empty();
        ServitorSettings settings = new ServitorSettings(
                data,
                "",
                data.resolve("keys"),
                URI.create("http://127.0.0.1"),
                Durability.PROCESS,
                Duration.ofMinutes(3),
                Duration.ofMinutes(2),
                Duration.ZERO,
                Duration.ofDays(14),
                CASES_PER_HOUR,
                Duration.ofSeconds(1),
                java.util.List.of(data.toAbsolutePath()),
                false);
        context.setParent(database.context());
        context.registerBean(ServitorSettings.class, () -> settings);
        context.registerBean(SteadyClock.class, () -> new SteadyClock(Clock.systemUTC()));
        context.registerBean(PasswordEncoder.class, NoOpPasswordEncoder::getInstance);
        context.register(Services.class);
        context.refresh();
        get(Editions.class).publish(DemoHandbook.files(), "", "admin");
    }

    public <T> T get(Class<T> type) {
        return context.getBean(type);
    }

    /** Somebody new of the house. */
    public Person person(String id, Set<Role> roles, String... desks) {
        return get(People.class)
                .put(
                        new PersonDetails(id, "Name of " + id, "", "", "", null, roles, Set.of(desks), Set.of()),
                        "admin",
                        Precondition.NONE);
    }

    /** What stands on the trail about a case, or about none, newest last. */
    public java.util.List<String> trail(String caseId) {
        return database.sql.queryForList("select what from trail where case_id = ? order by seq", String.class, caseId);
    }

    /** Changes the tables beneath. */
    public void change(String sql) {
        database.sql.execute(sql);
    }

    public Map<String, Object> row(String sql, Object... arguments) {
        return database.sql.queryForMap(sql, arguments);
    }

    @Override
    public void close() {
        context.close();
    }
}
