package servitor.connectors.sql;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Trust;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.Query;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The query connector against PostgreSQL. */
@Tag("outside")
class PostgresqlTests {
    private static final Duration LIMIT = Duration.ofSeconds(10);

    @TempDir
    private static Path folder;

    private static Postgres postgres;
    private final QueryTool tool = new QueryTool();

    @BeforeAll
    static void start() throws Exception {
        postgres = new Postgres(folder);
        try (Connection owner = owner();
                Statement statement = owner.createStatement()) {
            statement.execute(
                    "create table crew (id uuid primary key, name text, born date, joined timestamptz, shift timestamp,"
                            + " skills text[], notes jsonb, pay numeric(10,2), hours double precision, aboard boolean)");
            statement.execute(
                    "insert into crew values ('2f1c1f4e-0a51-4c0e-9d3f-5f0f8f3f1a11', 'Ewan', '1990-05-01',"
                            + " '2026-01-02 03:04:05+02', '2026-01-02 03:04:05', '{ropes,knots}', '{\"berth\": [1, 2]}', 1810.20, 7.5, true)");
            statement.execute("insert into crew (id, name) values ('2f1c1f4e-0a51-4c0e-9d3f-5f0f8f3f1a12', 'Dagny')");
        }
    }

    @AfterAll
    static void stop() throws Exception {
        postgres.close();
    }

    private static Connection owner() throws Exception {
        String url = "jdbc:postgresql://localhost:" + postgres.port() + "/postgres?sslmode=disable";
        for (int tries = 0; ; tries++) {
            try {
                return DriverManager.getConnection(url, "owner", Postgres.PASSWORD);
            } catch (SQLException e) {
                if (tries == 200 || !postgres.isAlive()) {
                    throw e;
                }
                TimeUnit.MILLISECONDS.sleep(50);
            }
        }
    }

    private static Access access(String host, String settings, String password, Trust trust) {
        return new Access(
                URI.create("jdbc:postgresql://" + host + ":" + postgres.port() + "/postgres" + settings),
                new Credentials.Password("owner", password),
                true,
                trust);
    }

    private static Access trusting() throws Exception {
        return access("localhost", "", Postgres.PASSWORD, Trust.of(postgres.certificate()));
    }

    private Reply ask(String sql, String args) throws Exception {
        return tool.call(
                trusting(),
                new Query("crew", sql, true, 2),
                (ObjectNode) Json.read(args, JsonNode.class),
                "key",
                Deadline.in(LIMIT));
    }

    @Test
    void everyTypeComesAsWhatItIs() throws Exception {
        assertThat(ask("select * from crew where name = :name", "{\"name\":\"Ewan\"}"))
                .isEqualTo(new Reply.Answered(200, Json.read("""
                        {"id": "2f1c1f4e-0a51-4c0e-9d3f-5f0f8f3f1a11", "name": "Ewan", "born": "1990-05-01",
                         "joined": "2026-01-02T01:04:05Z", "shift": "2026-01-02T03:04:05", "skills": ["ropes", "knots"],
                         "notes": {"berth": [1, 2]}, "pay": 1810.20, "hours": 7.5, "aboard": true}
                        """, JsonNode.class)));
        assertThat(ask("select born, skills, notes, aboard from crew where name = :name", "{\"name\":\"Dagny\"}"))
                .isEqualTo(new Reply.Answered(
                        200,
                        Json.read("{\"born\":null,\"skills\":null,\"notes\":null,\"aboard\":null}", JsonNode.class)));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "id = :x|\"2f1c1f4e-0a51-4c0e-9d3f-5f0f8f3f1a11\"",
                "born = :x|\"1990-05-01\"",
                "joined >= :x|\"2026-01-01T00:00:00Z\"",
                "name = any(:x)|[\"Ewan\",\"Teun\"]",
                "pay = any(:x)|[1810.2,5]",
                "pay > :x|1810",
                "aboard = :x|true",
                "notes = :x|{\"berth\":[1,2]}"
            })
    void everyTypeGoesInAsWhatItIs(String condition, String value) throws Exception {
        assertThat(ask("select name from crew where " + condition, "{\"x\":" + value + "}"))
                .isEqualTo(new Reply.Answered(200, Json.object().put("name", "Ewan")));
    }

    @Test
    void tlsTakesOnlyWhomTheConnectionTrustsAndOnlyForTheHostItself() throws Exception {
        assertThat(tool.test(trusting(), Deadline.in(LIMIT)))
                .isEqualTo(new Reply.Answered(200, Json.object().put("database", "PostgreSQL")));
        assertThat(tool.test(access("localhost", "", Postgres.PASSWORD, Trust.MACHINE), Deadline.in(LIMIT)))
                .isInstanceOf(Reply.NotSent.class);
        assertThat(tool.test(
                        access("127.0.0.1", "", Postgres.PASSWORD, Trust.of(postgres.certificate())),
                        Deadline.in(LIMIT)))
                .as("the certificate is for localhost")
                .isInstanceOf(Reply.NotSent.class);
        assertThat(tool.test(
                        access("127.0.0.1", "?sslmode=disable", Postgres.PASSWORD, Trust.MACHINE), Deadline.in(LIMIT)))
                .isInstanceOf(Reply.Answered.class);
    }

    @Test
    void aWrongPasswordIsSaidAndNothingElseIs() throws Exception {
        assertThat(tool.test(
                        access("localhost", "", "wrong-password", Trust.of(postgres.certificate())),
                        Deadline.in(LIMIT)))
                .isEqualTo(new Reply.Refused("refused", "the database doesn't accept the connection's credentials"));
    }

    @Test
    void nothingCanBeChangedAndNothingReachesOut() throws Exception {
        for (String sql : new String[] {
            "delete from crew returning name",
            "select pg_read_file('/etc/hostname')",
            "with gone as (delete from crew returning name) select * from gone",
            "select * from pg_ls_dir('.')"
        }) {
            assertThat(ask(sql, "{}")).as(sql).isInstanceOf(Reply.Refused.class);
        }
        assertThat(ask("select count(*) as n from crew", "{}"))
                .isEqualTo(new Reply.Answered(200, Json.object().put("n", new java.math.BigDecimal(2))));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "?sslmode=require",
                "?socketFactory=java.lang.String",
                "?sslmode=verify-full&loggerFile=/tmp/x",
                "?options=-c%20x=y",
                "?currentSchema=public;drop"
            })
    void settingsThatArentSafeArentTaken(String settings) {
        assertThat(Database.isServer("jdbc:postgresql://db.example/crew" + settings))
                .isFalse();
        assertThat(Database.isServer("jdbc:postgresql://db.example/crew?sslmode=verify-full&currentSchema=crew"))
                .isTrue();
    }

    @Test
    void aDatabaseInsideIsNotReachedUnlessItsConnectionSaysSo() throws Exception {
        Access outside =
                new Access(trusting().address(), trusting().credentials(), false, Trust.of(postgres.certificate()));
        assertThat(tool.test(outside, Deadline.in(LIMIT)))
                .isInstanceOfSatisfying(
                        Reply.Refused.class,
                        refused -> assertThat(refused.detail()).contains("private network"));
    }
}
