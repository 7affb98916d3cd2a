package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import servitor.demo.Household.Said;

/** The service is killed without warning in the middle of its work, and loses nothing and pays nothing twice. */
class KillTests {
    private static final long SEED = 20261124;

    @Test
    void aKilledServiceFinishesEveryRunWithOnePaymentEach() throws Exception {
        Random random = new Random(SEED);
        try (Household household = new Household()) {
            household.standins.fares().beSlow(150);
            List<String> acknowledged = new ArrayList<>();
            for (int round = 0; round < Integer.getInteger("kill.service-rounds", 2); round++) {
                for (int i = 0; i < 6; i++) {
                    acknowledged.add(household.openRefund("ines", "SK-6%05d".formatted(round * 100 + i)));
                }
                TimeUnit.MILLISECONDS.sleep(random.nextInt(700)); // the instant of the kill is what is being tried
                household.service.kill();
                household.start();
            }
            household.standins.fares().beSlow(0);
            for (String caseId : acknowledged) {
                household.run("--as", "osei", "approval", "decide", household.approvalOf(caseId), "--approve");
            }
            for (String caseId : acknowledged) {
                Household.await(
                        caseId + " to be resolved",
                        () -> household.state(caseId).equals("resolved"));
            }
            assertThat(household.standins.fares().refunds())
                    .as("one payment for each acknowledged case (seed %d)", SEED)
                    .hasSize(acknowledged.size());
            Said verified = household.run("--as", "noor", "trail", "verify");
            assertThat(verified.code()).as(verified.out()).isZero();
            household.service.close();
            anAlterationInTheDatabaseIsNamed(household);
        }
    }

    private static void anAlterationInTheDatabaseIsNamed(Household household) throws Exception {
        long altered;
        try (Connection database = DriverManager.getConnection(
                        "jdbc:h2:" + household.data().resolve("ledger"), "sa", "");
                Statement statement = database.createStatement()) {
            assertThat(count(statement, "select count(*) from command where state in ('done', 'dropped')"))
                    .isEqualTo(count(statement, "select count(*) from command"));
            assertThat(count(statement, "select count(*) from trail where case_id >= ''"))
                    .as("index and table agree")
                    .isEqualTo(count(statement, "select count(*) from trail"));
            org.assertj.core.api.Assertions.assertThatThrownBy(
                            () -> statement.executeUpdate("update trail set actor = 'person:osei' where seq = 20"))
                    .hasMessageContaining("append-only");
            altered = count(statement, "select min(seq) from trail where what = 'verdict'");
            statement.execute("drop trigger trail_is_append_only");
            assertThat(statement.executeUpdate("update trail set actor = 'person:osei' where seq = " + altered))
                    .isEqualTo(1);
        }
        household.start();
        Said verified = household.run("--as", "noor", "trail", "verify");
        assertThat(verified.code()).isEqualTo(1);
        assertThat(verified.out()).contains("Entry " + altered + ": the entry was altered");
    }

    private static long count(Statement statement, String sql) throws Exception {
        try (ResultSet result = statement.executeQuery(sql)) {
            result.next();
            return result.getLong(1);
        }
    }
}
