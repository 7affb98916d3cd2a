package servitor.service.ledger;

import java.util.Arrays;
import org.flywaydb.core.Flyway;
import org.flywaydb.core.api.MigrationInfo;
import org.flywaydb.core.api.MigrationState;
import org.springframework.boot.flyway.autoconfigure.FlywayMigrationStrategy;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** Brings the tables of an earlier version up to this one's; those of a later version are left alone. */
@Configuration
class Migrations {
    @Bean
    FlywayMigrationStrategy onlyForward() {
        return Migrations::migrate;
    }

    static void migrate(Flyway flyway) {
        MigrationInfo[] all = flyway.info().all();
        Arrays.stream(all)
                .filter(one -> one.getState() == MigrationState.FUTURE_SUCCESS
                        || one.getState() == MigrationState.FUTURE_FAILED)
                .reduce((one, later) -> later)
                .ifPresent(newest -> {
                    throw new NewerDatabase(String.valueOf(newest.getVersion()), known(all));
                });
        flyway.migrate();
    }

    private static String known(MigrationInfo[] all) {
        return Arrays.stream(all)
                .filter(one -> one.getState().isResolved())
                .map(one -> String.valueOf(one.getVersion()))
                .reduce((one, later) -> later)
                .orElse("none");
    }
}
