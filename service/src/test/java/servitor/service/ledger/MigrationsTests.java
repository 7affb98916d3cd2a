package servitor.service.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.flywaydb.core.Flyway;
import org.h2.jdbcx.JdbcDataSource;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;

class MigrationsTests {
    @Test
    void aDatabaseOfANewerVersionIsNotOpened() {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:mem:newer;DB_CLOSE_DELAY=-1");
        Flyway flyway = Flyway.configure()
                .dataSource(source)
                .locations("classpath:db/migration")
                .load();
        Migrations.migrate(flyway);
        Migrations.migrate(flyway); // once more is nothing to do
        String newest = flyway.info().current().getVersion().getVersion();
        JdbcTemplate sql = new JdbcTemplate(source);
        sql.update(
                "insert into \"flyway_schema_history\" select 1000, '900', 'of later', 'SQL', 'V900__of_later.sql', 0, 'x',"
                        + " current_timestamp, 1, true");

        assertThatThrownBy(() -> Migrations.migrate(flyway))
                .isInstanceOf(NewerDatabase.class)
                .hasMessageContaining("tables are at version 900")
                .hasMessageContaining("up to " + newest);
        assertThat(new NewerDatabaseAnalyzer()
                        .analyze(new NewerDatabase("900", newest))
                        .getAction())
                .contains("Start the newer version again");
    }
}
