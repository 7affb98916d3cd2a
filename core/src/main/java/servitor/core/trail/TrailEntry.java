package servitor.core.trail;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HexFormat;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * One entry of the trail. Its hash covers every other part, and the previous entry's hash is one of them: no entry can
 * be changed, removed or put in between without every later hash showing it.
 *
 * @param seq counts from 1 without gaps
 * @param at UTC, in microseconds
 * @param caseId the case it concerns; empty for none
 * @param runId the run it belongs to; empty for none
 * @param dataDigest SHA-256 of salt and canonical data
 * @param previous the hash of the entry before; {@link #GENESIS} for the first
 */
public record TrailEntry(
        long seq,
        Instant at,
        String actor,
        String caseId,
        String runId,
        String step,
        String what,
        String dataDigest,
        String previous,
        String hash) {

    /** Stands where the hash before the first entry would. */
    public static final String GENESIS = "0".repeat(64);

    public TrailEntry {
        at = at.truncatedTo(ChronoUnit.MICROS);
    }

    /**
     * Adds {@code event} to a chain whose last entry is number {@code seq - 1} with the hash {@code previous}.
     *
     * @param dataDigest the {@link #digest} of the event's data
     */
    public static TrailEntry append(
            long seq, String previous, Instant at, String caseId, String runId, TrailEvent event, String dataDigest) {
        TrailEntry open = new TrailEntry(
                seq,
                at,
                event.actor(),
                caseId,
                runId,
                event.step(),
                event.what().word(),
                dataDigest,
                previous,
                "");
        return new TrailEntry(
                seq,
                open.at(),
                open.actor(),
                caseId,
                runId,
                open.step(),
                open.what(),
                open.dataDigest(),
                previous,
                open.calculateHash());
    }

    /** The digest of an entry's data: SHA-256 over the salt followed by the canonical form (RFC 8785). */
    public static String digest(byte[] salt, JsonNode data) {
        return Json.sha256(salt, Json.canonical(data));
    }

    /** The hash this entry should have: SHA-256 over the canonical form of all its other parts. */
    public String calculateHash() {
        return Json.digest(withoutHash());
    }

    public ObjectNode toJson() {
        return withoutHash().put("hash", hash);
    }

    private ObjectNode withoutHash() {
        return Json.object()
                .put("seq", seq)
                .put("at", at.toString())
                .put("actor", actor)
                .put("case", caseId)
                .put("run", runId)
                .put("step", step)
                .put("what", what)
                .put("digest", dataDigest)
                .put("previous", previous);
    }

    static TrailEntry fromJson(JsonNode node) {
        return new TrailEntry(
                node.required("seq").longValue(),
                Instant.parse(node.required("at").stringValue()),
                node.required("actor").stringValue(),
                node.required("case").stringValue(),
                node.required("run").stringValue(),
                node.required("step").stringValue(),
                node.required("what").stringValue(),
                node.required("digest").stringValue(),
                node.required("previous").stringValue(),
                node.required("hash").stringValue());
    }

    /** Hexadecimal salt as stored and exported. */
    public static byte[] salt(String hex) {
        return HexFormat.of().parseHex(hex);
    }
}
