package servitor.demo;

import java.net.URI;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.support.GenericApplicationContext;
import servitor.service.ServitorApplication;
import servitor.service.SteadyClock;

/** The whole service within this process, by a clock of one's own. Only one runs at a time. */
public final class WholeService {
    private WholeService() {}

    /** Starts it on a data folder and a free port. */
    public static ConfigurableApplicationContext start(Path data, Clock clock) {
        return start(data, clock, Duration.ofSeconds(15));
    }

    /** The same, with mailboxes looked at every so often by the clock of the machine, whichever its own is. */
    public static ConfigurableApplicationContext start(Path data, Clock clock, Duration mailEvery) {
        System.setProperty("servitor.data", data.toString());
        System.setProperty("servitor.follow-under", data.resolve("logs").toString());
        System.setProperty(
                "servitor.database-url",
                "jdbc:h2:async:" + data + "/ledger;DB_CLOSE_ON_EXIT=FALSE;QUERY_CACHE_SIZE=200");
        return new SpringApplicationBuilder(ServitorApplication.class)
                .initializers(starting -> ((GenericApplicationContext) starting)
                        .registerBean(
                                "simulatedClock",
                                SteadyClock.class,
                                () -> new SteadyClock(clock),
                                bean -> bean.setPrimary(true)))
                .run("--server.port=0", "--servitor.mail-every=" + mailEvery);
    }

    /** Where it listens. */
    public static URI url(ConfigurableApplicationContext service) {
        return URI.create("http://127.0.0.1:" + service.getEnvironment().getProperty("local.server.port"));
    }
}
