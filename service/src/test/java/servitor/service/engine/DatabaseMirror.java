package servitor.service.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.util.Collection;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.SortedMap;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.support.TransactionTemplate;
import servitor.core.engine.EngineStore;
import servitor.core.engine.Mirror;
import servitor.core.engine.Work;
import servitor.core.json.Json;
import servitor.core.run.RunState;
import servitor.core.trail.Verifier;
import servitor.service.cases.CaseRow;
import servitor.service.editions.EditionRow;
import servitor.service.editions.EditionStore;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.MemoryDatabase;
import servitor.service.ledger.OpenTransaction;
import servitor.service.ledger.TrailStore;
import servitor.service.people.PersonRow;
import servitor.service.runs.RowConversion;
import servitor.service.runs.RunRow;
import tools.jackson.databind.JsonNode;

/** A real database that does everything the memory of a simulated history does; the engine works on what it answers. */
final class DatabaseMirror implements Mirror {
    private final MemoryDatabase database = new MemoryDatabase("histories");
    private final JdbcTemplate sql;
    private final TransactionTemplate transactions;
    private final SqlEngineStores stores = database.get(SqlEngineStores.class);
    private final WriterCache recent = stores.cache;
    private final OpenTransaction opened = new OpenTransaction(database);
    private LedgerTransaction tx;

    DatabaseMirror() {
        sql = database.sql;
        transactions = new TransactionTemplate(database.transactions);
    }

    /** Empties it for the next history. */
    void begin() {
        recent.forget();
        database.empty();
        transactions.executeWithoutResult(status -> {
            LedgerTransaction first = opened.begin(java.time.Instant.EPOCH);
            stores.people.insert(
                    first,
                    new PersonRow(
                            "ines",
                            "Ines",
                            "ines@house.example",
                            "P-1",
                            null,
                            "requester",
                            first.now(),
                            "osei",
                            null,
                            null));
            for (String person : List.of("osei", "lucja", "sunniva")) {
                stores.people.insert(
                        first,
                        new PersonRow(person, person, person, "", null, "approver", first.now(), "", null, null));
                stores.people.setMemberships(
                        first, person, java.util.Set.of("desk"), java.util.Set.of("leads", "seniors"));
            }
            opened.firstEpoch(""); // so that keys are ids, as in the memory
            database.get(EditionStore.class)
                    .insert(new EditionRow(1, "0".repeat(64), "", "", first.now()), java.util.Map.of());
        });
    }

    @Override
    public void transaction(Runnable memory) {
        try {
            transactions.executeWithoutResult(status -> {
                memory.run();
                opened.seal();
            });
        } catch (RuntimeException | Error e) {
            recent.forget();
            throw e;
        } finally {
            opened.end();
        }
        remembersWhatIsThere();
    }

    /** What the writer remembers is what anybody would read. */
    private void remembersWhatIsThere() {
        for (String id : sql.queryForList("select id from run", String.class)) {
            EngineStore.KeptRun remembered = recent.run(id);
            if (remembered != null) {
                RunRow row = stores.runs.find(id).orElseThrow();
                assertThat(remembered.version()).isEqualTo(row.version());
                assertThat(Json.read(Json.write(remembered.state()), RunState.class))
                        .isEqualTo(RowConversion.run(row));
            }
        }
        for (String id : sql.queryForList("select id from run", String.class)) {
            SortedMap<String, Work> remembered = recent.openWork(id);
            if (remembered != null) {
                assertThat(remembered.values().stream().map(DatabaseMirror::standing))
                        .containsExactlyElementsOf(stores.works.openOf(id).stream()
                                .map(DatabaseMirror::standing)
                                .sorted()
                                .toList());
            }
        }
        for (String id : sql.queryForList("select id from approval", String.class)) {
            WriterCache.OpenApproval remembered = recent.approval(id);
            if (remembered != null) {
                assertThat(shape(remembered.kept()))
                        .isEqualTo(shape(stores.approvals.find(id).orElseThrow().kept()));
                assertThat(remembered.given()).isEqualTo(stores.approvals.given(id));
            }
        }
        for (String id : sql.queryForList("select id from case_record", String.class)) {
            WriterCache.OfCase remembered = recent.ofCase(id);
            if (remembered != null) {
                assertThat(stores.cases.find(id)).contains(remembered.row());
                assertThat(stores.runs.activeOf(id)).isEqualTo(remembered.active());
            }
        }
    }

    private static String standing(Work work) {
        return work.id() + " " + work.stage() + " " + work.owner() + " " + work.attempts() + " " + work.due() + " "
                + work.sent();
    }

    @Override
    public EngineStore over(EngineStore memory) {
        tx = opened.begin(memory.now());
        EngineStore database = tx.store();
        return (EngineStore) Proxy.newProxyInstance(
                EngineStore.class.getClassLoader(), new Class<?>[] {EngineStore.class}, (proxy, method, args) -> {
                    try {
                        Object wanted = method.invoke(memory, args);
                        if (method.getName().equals("newRunId")) {
                            return wanted; // the same names in both
                        }
                        Object got = method.invoke(database, args);
                        assertThat(shape(got))
                                .as("%s%s", method.getName(), java.util.Arrays.toString(args))
                                .isEqualTo(shape(wanted));
                        return got;
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                });
    }

    /** What must be the same of an answer: yes or no, how many, and the versions that fence writes. */
    private static Object shape(Object answer) {
        if (answer instanceof Optional<?> optional) {
            return optional.map(DatabaseMirror::shape);
        } else if (answer instanceof Collection<?> all) {
            return all.size();
        } else if (answer instanceof EngineStore.KeptRun run) {
            return run.version() + " " + run.state().status() + " "
                    + run.state().step() + " " + run.state().saved().keySet() + " "
                    + run.state().used();
        } else if (answer instanceof servitor.core.engine.KeptApproval approval) {
            return approval.version() + " " + approval.state() + " " + approval.due() + " " + approval.reminders() + " "
                    + approval.request().digest();
        } else if (answer instanceof servitor.core.run.Situation situation) {
            return situation.view().priority() + " " + situation.requester();
        } else if (answer instanceof java.math.BigDecimal amount) {
            return amount.stripTrailingZeros();
        } else if (answer instanceof Boolean || answer instanceof Integer) {
            return answer;
        }
        return Objects.isNull(answer);
    }

    @Override
    public void openCase(String id, String kind, JsonNode fields) {
        stores.cases.insert(
                tx,
                new CaseRow(
                        id,
                        Long.parseLong(id.substring(2)),
                        "desk",
                        kind,
                        "ines",
                        "signed-in",
                        "note",
                        "ines",
                        "A subject",
                        "",
                        "A text",
                        "en",
                        "normal",
                        "[]",
                        Json.write(fields),
                        "open",
                        null,
                        null,
                        "",
                        null,
                        tx.now(),
                        tx.now(),
                        1));
    }

    @Override
    public void check(int entries) {
        Verifier verifier = new Verifier();
        database.get(TrailStore.class)
                .after(0, 100_000)
                .forEach(entry -> assertThat(verifier.next(entry)).isEmpty());
        assertThat(verifier.verified()).as("entries of the trail").isEqualTo(entries);
        assertThat(sql.queryForObject(
                        "select count(*) from run where status not in ('finished', 'failed', 'stopped')",
                        Integer.class))
                .as("runs that haven't ended")
                .isZero();
        assertThat(sql.queryForObject("select count(*) from went_wrong where seen_by = ''", Integer.class))
                .isZero();
    }
}
