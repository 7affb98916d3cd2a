package servitor.service.runs;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.OwnerOnly;
import servitor.service.ServitorSettings;
import servitor.service.approvals.ApprovalStore;
import servitor.service.ledger.MaterialRow;
import servitor.service.ledger.TrailStore;
import servitor.service.ledger.Writer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Moves what is long past out of the database, into files of JSON Lines in the data folder's {@code archive}: first it is
 * on the disk there, then it goes here. The trail keeps every entry and every digest, so that what moved out can be held
 * against it.
 */
@Component
public class Retention {
    private static final Logger LOG = LoggerFactory.getLogger(Retention.class);
    private static final int AT_ONCE = 100;
    private static final DateTimeFormatter MONTH =
            DateTimeFormatter.ofPattern("yyyy-MM").withZone(ZoneOffset.UTC);

    private final RunStore runStore;
    private final TrailStore trailStore;
    private final WorkStore workStore;
    private final ApprovalStore approvalStore;
    private final Writer writer;
    private final Clock clock;
    private final ServitorSettings settings;

    Retention(
            RunStore runStore,
            TrailStore trailStore,
            WorkStore workStore,
            ApprovalStore approvalStore,
            Writer writer,
            Clock clock,
            ServitorSettings settings) {
        this.runStore = runStore;
        this.trailStore = trailStore;
        this.workStore = workStore;
        this.approvalStore = approvalStore;
        this.writer = writer;
        this.clock = clock;
        this.settings = settings;
    }

    /** How much moved out, and where to. */
    public record MovedOut(int runs, int texts, String folder) {}

    /** Moves out what the settings say; nothing when they say for ever. */
    public void keepTheSettings() {
        if (!settings.keepRuns().isZero()) {
            MovedOut moved = moveOut(settings.keepRuns(), "servitor");
            if (moved.runs() + moved.texts() > 0) {
                LOG.info("{} runs and {} texts moved out to {}.", moved.runs(), moved.texts(), moved.folder());
            }
        }
    }

    /** Moves out every run that ended longer ago than {@code age}, and every long text kept longer ago. */
    public MovedOut moveOut(Duration age, String by) {
        Instant before = clock.instant().minus(age);
        int runs = 0;
        for (List<RunRow> some = runStore.toMoveOut(before, AT_ONCE);
                !some.isEmpty();
                some = runStore.toMoveOut(before, AT_ONCE)) {
            moveRuns(some, by);
            runs += some.size();
        }
        int texts = 0;
        for (List<MaterialRow> some = trailStore.materialToMoveOut(before, AT_ONCE);
                !some.isEmpty();
                some = trailStore.materialToMoveOut(before, AT_ONCE)) {
            moveTexts(some, by);
            texts += some.size();
        }
        return new MovedOut(runs, texts, folder().toString());
    }

    private Path folder() {
        return settings.data().resolve("archive");
    }

    private void moveRuns(List<RunRow> some, String by) {
        List<String> lines = some.stream().map(run -> Json.write(whole(run))).toList();
        String file = append("runs-", lines);
        writer.write(tx -> {
            for (int i = 0; i < some.size(); i++) {
                RunRow run = some.get(i);
                runStore.moveOut(tx, run, Json.write(RowConversion.run(run).slim()));
                approvalStore.deleteOfRun(run.id());
                workStore.delete(run.id());
                tx.trail(
                        run.caseId(),
                        run.id(),
                        new TrailEvent(
                                by.equals("servitor") ? TrailEvent.SYSTEM : TrailEvent.person(by),
                                TrailWord.RUN_MOVED_OUT,
                                "",
                                Json.object().put("file", file).put("digest", Json.digest(lines.get(i)))));
            }
            return null;
        });
    }

    private ObjectNode whole(RunRow run) {
        ObjectNode all = Json.object();
        all.set("run", Json.of(run));
        all.set("state", Json.read(run.state(), JsonNode.class));
        ((ObjectNode) all.get("run")).remove("state");
        all.set("commands", Json.of(workStore.ofRun(run.id())));
        var approvals = all.putArray("approvals");
        approvalStore.ofRun(run.id()).forEach(approval -> {
            ObjectNode one = (ObjectNode) Json.of(approval);
            one.set("answers", Json.of(approvalStore.answers(approval.id())));
            approvalStore.evidence(approval.id()).ifPresent(evidence -> one.set("evidence", Json.of(evidence)));
            approvals.add(one);
        });
        return all;
    }

    private void moveTexts(List<MaterialRow> some, String by) {
        List<String> lines = some.stream().map(Json::write).toList();
        String file = append("texts-", lines);
        writer.write(tx -> {
            some.forEach(text -> trailStore.dropMaterial(text.hash()));
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            by.equals("servitor") ? TrailEvent.SYSTEM : TrailEvent.person(by),
                            TrailWord.TEXTS_MOVED_OUT,
                            "",
                            Json.object().put("file", file).put("texts", some.size())));
            return null;
        });
    }

    /** Puts lines at the end of this month's file, and on the disk; gives the file's name. */
    private String append(String sort, List<String> lines) {
        String name = sort + MONTH.format(clock.instant()) + ".jsonl";
        try {
            Path file = OwnerOnly.file(OwnerOnly.folder(folder()).resolve(name));
            try (FileChannel channel = FileChannel.open(
                    file, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.APPEND)) {
                ByteBuffer all = ByteBuffer.wrap((String.join("\n", lines) + "\n").getBytes(StandardCharsets.UTF_8));
                while (all.hasRemaining()) {
                    channel.write(all);
                }
                channel.force(true);
            }
            return name;
        } catch (IOException e) {
            throw new UncheckedIOException("nothing was moved out: " + name + " can't be written", e);
        }
    }
}
