package servitor.service.ledger;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** What a service finds when it starts: whether its database holds what was acknowledged, and whether it was restored. */
final class Beginning {
    private static final Logger LOG = LoggerFactory.getLogger(Beginning.class);
    private static final String SIGNS = "abcdefghjkmnpqrstuvwxyz23456789";
    private static final int LENGTH = 8;

    private Beginning() {}

    /**
     * What goes on the trail before anything else; null when all is as it was left. Throws {@link LedgerBehind} when something
     * that was acknowledged is missing, or nobody can tell, and it isn't accepted.
     *
     * @param alone whether the database is this process's own: another that joins a shared one has no head file yet
     */
    static @Nullable TrailEvent of(TrailMapper trail, Path file, Path restored, boolean alone, boolean accepted) {
        HeadRow there = trail.head();
        HeadRow acknowledged = HeadFile.read(file).orElse(null);
        if (acknowledged == null) {
            if (!alone || there.seq() == 0) {
                return null;
            } else if (!accepted) {
                throw LedgerBehind.headMissing(file, there.seq());
            }
            LOG.warn("The head file was missing or unreadable; that is accepted.");
            return said(
                    TrailWord.LOSS_ACCEPTED,
                    Json.object().put("head", "missing").put("there", there.seq()));
        }
        HeadRow entry = acknowledged.seq() == 0 ? acknowledged : trail.entry(acknowledged.seq());
        if (entry == null || !entry.hash().equals(acknowledged.hash())) {
            if (!accepted) {
                throw new LedgerBehind(file, acknowledged, there.seq());
            }
            LOG.warn(
                    "The database ends at entry {}, entry {} was acknowledged; the loss is accepted.",
                    there.seq(),
                    acknowledged.seq());
            return said(
                    TrailWord.LOSS_ACCEPTED,
                    Json.object().put("acknowledged", acknowledged.seq()).put("there", there.seq()));
        }
        return Files.exists(restored) ? said(TrailWord.RESTORED, Json.object().put("there", there.seq())) : null;
    }

    private static TrailEvent said(TrailWord what, JsonNode data) {
        return new TrailEvent(TrailEvent.SYSTEM, what, "", data);
    }

    /** A name that no other installation has, nor this one had before. */
    static String newEpoch() {
        SecureRandom random = new SecureRandom();
        StringBuilder epoch = new StringBuilder();
        for (int i = 0; i < LENGTH; i++) {
            epoch.append(SIGNS.charAt(random.nextInt(SIGNS.length())));
        }
        return epoch.toString();
    }

    /** That it was restored is on the trail now. */
    static void done(Path restored) {
        try {
            Files.deleteIfExists(restored);
        } catch (IOException e) {
            throw new UncheckedIOException(restored + " can't be removed", e);
        }
    }
}
