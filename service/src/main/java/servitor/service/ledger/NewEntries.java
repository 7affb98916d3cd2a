package servitor.service.ledger;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.Executor;
import servitor.core.json.Json;
import servitor.core.trail.Portable;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailEvent;
import tools.jackson.databind.JsonNode;

/**
 * What one transaction puts on the trail. The data of entries, which need no place in the chain, are written as JSON and digested
 * by another thread while the transaction goes on; the chain is made at its end.
 */
final class NewEntries {
    private static final SecureRandom RANDOM = new SecureRandom();
    /** So many at once are worth waking another thread. */
    private static final int BUNDLE = 16;

    private final Executor beside;
    private final List<CompletableFuture<List<Digested>>> bundles = new ArrayList<>();
    private List<Added> latest = new ArrayList<>();

    NewEntries(Executor beside) {
        this.beside = beside;
    }

    private record Added(String caseId, String runId, TrailEvent event) {}

    private record Digested(Added added, String salt, String digest, String data) {
        static Digested of(Added added) {
            byte[] salt = new byte[16];
            RANDOM.nextBytes(salt);
            JsonNode data = Portable.of(added.event().data());
            return new Digested(added, HexFormat.of().formatHex(salt), TrailEntry.digest(salt, data), Json.write(data));
        }

        TrailRow row(HeadRow after, Instant at) {
            TrailEntry entry = TrailEntry.append(
                    after.seq() + 1, after.hash(), at, added.caseId(), added.runId(), added.event(), digest);
            return new TrailRow(
                    entry.seq(),
                    entry.at(),
                    entry.actor(),
                    entry.caseId(),
                    entry.runId(),
                    entry.step(),
                    entry.what(),
                    entry.dataDigest(),
                    entry.previous(),
                    entry.hash(),
                    salt,
                    data);
        }
    }

    void add(String caseId, String runId, TrailEvent event) {
        latest.add(new Added(caseId, runId, event));
        if (latest.size() == BUNDLE) {
            digest();
        }
    }

    /** Begins to digest what isn't yet. */
    void digest() {
        if (!latest.isEmpty()) {
            List<Added> bundle = latest;
            latest = new ArrayList<>();
            bundles.add(CompletableFuture.supplyAsync(
                    () -> bundle.stream().map(Digested::of).toList(), beside));
        }
    }

    /** All entries as links of the chain that ends with {@code head} so far. */
    List<TrailRow> chainedTo(HeadRow head, Instant at) {
        digest();
        List<TrailRow> rows = new ArrayList<>();
        HeadRow last = head;
        for (CompletableFuture<List<Digested>> bundle : bundles) {
            for (Digested one : bundle.join()) {
                TrailRow row = one.row(last, at);
                rows.add(row);
                last = new HeadRow(row.seq(), row.hash());
            }
        }
        return rows;
    }
}
