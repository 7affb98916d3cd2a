package servitor.connectors.sql;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.URI;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.h2.tools.Server;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.Query;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** The query connector against a database server on loopback. */
class QueryToolTests {
    private static final Duration LIMIT = Duration.ofSeconds(5);
    private static final String OWN = "select paid_on, net from pay where account = :account order by paid_on";

    private final QueryTool tool = new QueryTool();
    private Server server;
    private Connection keeper;
    private String url;

    @BeforeEach
    void start() throws SQLException {
        server = Server.createTcpServer("-tcpPort", "0", "-ifNotExists").start();
        url = "jdbc:h2:tcp://127.0.0.1:" + server.getPort() + "/mem:pay";
        keeper = DriverManager.getConnection(url, "owner", "owner");
        try (Statement statement = keeper.createStatement()) {
            statement.execute("create table pay (account varchar(60), paid_on date, net decimal(10, 2))");
            statement.execute(
                    "insert into pay values ('ewan', date '2026-09-30', 1810.20), ('ewan', date '2026-10-31', 1795.00), "
                            + "('dagny', date '2026-10-31', 2210.00)");
        }
    }

    @AfterEach
    void stop() throws SQLException {
        keeper.close();
        server.stop();
    }

    private Reply ask(String sql, boolean one, int rows, ObjectNode args) {
        Access access = new Access(URI.create(url), new Credentials.Password("owner", "owner"), true);
        return tool.call(access, new Query("pay", sql, one, rows), args, "key", Deadline.in(LIMIT));
    }

    private Reply ask(String sql) {
        return ask(sql, false, 10, Json.object());
    }

    @Test
    void namedInputsAreValuesAndNeverSql() throws Exception {
        assertThat(ask(OWN, false, 10, Json.object().put("account", "ewan")))
                .isEqualTo(new Reply.Answered(200, Json.read("""
                                {"more": false, "rows": [{"paid_on": "2026-09-30", "net": 1810.20}, {"paid_on": "2026-10-31", "net": 1795.00}]}
                                """)));
        assertThat(ask(OWN, false, 10, Json.object().put("account", "x' or '1'='1")))
                .isEqualTo(new Reply.Answered(200, Json.read("{\"more\": false, \"rows\": []}")));
    }

    @Test
    void rowsAreBoundedAndOneMeansOne() {
        assertThat(((Reply.Answered) ask("select account from pay", false, 2, Json.object()))
                        .body()
                        .path("more")
                        .asBoolean())
                .isTrue();
        assertThat(ask(OWN, true, 2, Json.object().put("account", "nobody")))
                .isEqualTo(new Reply.Refused("not-found", "no row fits"));
        assertThat(ask(OWN, true, 2, Json.object().put("account", "ewan")))
                .isEqualTo(new Reply.Refused("invalid", "several rows fit where one is meant"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "delete from pay",
                "select 1; delete from pay",
                "with gone as (delete from pay returning *) select * from gone",
                "select * into stolen from pay",
                "select * from pay for update",
                "select * from final table (update pay set net = 0)",
                "call shutdown()",
                "select file_read('/etc/passwd', 'UTF-8') as stolen",
                "select csvread('/etc/passwd') from pay",
                "select * from csvread('/etc/passwd')",
                "select * from system_range(1, 10)",
                "select link_schema('x', '', 'jdbc:h2:mem:x', '', '', 'PUBLIC')",
                "select max(file_read('/etc/passwd')) over () from pay",
                "select net from pay where account = file_read('/etc/passwd')",
                "create table x (y int)",
                "select /* */",
                ""
            })
    void whatIsNotOneSelectIsRefusedAndChangesNothing(String sql) throws SQLException {
        assertThat(ask(sql)).isInstanceOf(Reply.Refused.class);
        try (Statement statement = keeper.createStatement();
                var rows = statement.executeQuery("select sum(net) from pay")) {
            rows.next();
            assertThat(rows.getBigDecimal(1)).isEqualByComparingTo("5815.20");
        }
    }

    @Test
    void wordsInsideTextsAreNoChanges() {
        assertThat(ask("select 'delete from pay' as said from pay")).isInstanceOf(Reply.Answered.class);
        assertThatThrownBy(() -> ReadOnlyQuery.of("update pay set net = 0")).hasMessage("only a SELECT can be asked");
    }

    @Test
    void aQueryThatTakesTooLongEnds() {
        Access access = new Access(URI.create(url), new Credentials.Password("owner", "owner"), true);
        String slow = "select count(*) as n from "
                + IntStream.range(0, 22).mapToObj(i -> "pay p" + i).collect(Collectors.joining(", "));

        Reply reply = tool.call(
                access, new Query("pay", slow, true, 2), Json.object(), "key", Deadline.in(Duration.ofSeconds(1)));

        assertThat(reply).isEqualTo(new Reply.Unknown("the database didn't answer in time", true));
    }

    @Test
    void aTestSaysWhetherSigningInWorks() {
        assertThat(tool.test(
                        new Access(URI.create(url), new Credentials.Password("owner", "owner"), true),
                        Deadline.in(LIMIT)))
                .isInstanceOf(Reply.Answered.class);
        assertThat(tool.test(
                        new Access(URI.create(url), new Credentials.Password("owner", "no"), true), Deadline.in(LIMIT)))
                .isEqualTo(new Reply.Refused("refused", "the database doesn't accept the connection's credentials"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "jdbc:h2:/tmp/ledger",
                "jdbc:h2:file:/tmp/ledger",
                "jdbc:h2:mem:x",
                "jdbc:h2:zip:/tmp/x.zip!/x",
                "jdbc:h2:tcp://127.0.0.1:1/../../etc/x",
                "jdbc:h2:ssl://127.0.0.1:1/mem:x",
                "jdbc:other:file:/x"
            })
    void onlyServersOfDeclaredDatabasesAreAsked(String address) {
        Access access = new Access(URI.create(address), new Credentials.None(), true);

        assertThat(tool.call(
                        access, new Query("pay", "select 1 as n", true, 2), Json.object(), "key", Deadline.in(LIMIT)))
                .isInstanceOfSatisfying(
                        Reply.Refused.class,
                        refused -> assertThat(refused.detail()).contains("declared databases"));
    }
}
