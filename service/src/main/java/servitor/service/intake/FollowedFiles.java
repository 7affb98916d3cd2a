package servitor.service.intake;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.NoSuchFileException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Intake;
import servitor.core.intake.LineBody;
import servitor.core.intake.OutsideEvent;
import servitor.core.intake.UnreadableEvent;
import servitor.service.Unavailable;
import servitor.service.cases.TooMany;
import servitor.service.connections.Connections;
import servitor.service.connections.FollowedPath;
import servitor.service.editions.Editions;
import servitor.service.ledger.Writer;
import servitor.service.runs.Stops;

/**
 * Follows files that an admin has named as connections: each line becomes one thing. Until where is read is durable before it is taken in,
 * so that a service that dies takes the same lines in again, which are known then. Of a file that is moved away for a new one of its name
 * the rest is read first. One that is there at first is read from its end on.
 */
@Service
public class FollowedFiles {
    private static final Logger LOG = LoggerFactory.getLogger(FollowedFiles.class);
    private static final Duration AGAIN = Duration.ofMinutes(1);
    /** Parts that are taken in of one file before others have their turn. */
    private static final int MOST_PARTS = 20;

    private final Editions editions;
    private final Intakes intakes;
    private final Connections connections;
    private final FollowedStore rows;
    private final EventIntake events;
    private final Stops stops;
    private final Writer writer;
    private final Clock clock;
    /** Those that failed, and when they are tried again. Used by one thread alone. */
    private final Map<String, Instant> later = new HashMap<>();

    FollowedFiles(
            Editions editions,
            Intakes intakes,
            Connections connections,
            FollowedStore rows,
            EventIntake events,
            Stops stops,
            Writer writer,
            Clock clock) {
        this.editions = editions;
        this.intakes = intakes;
        this.connections = connections;
        this.rows = rows;
        this.events = events;
        this.stops = stops;
        this.writer = writer;
        this.clock = clock;
    }

    /** Takes in what has come to each of them. */
    public void look() {
        editions.current().stream()
                .flatMap(edition -> edition.handbook().intake().values().stream())
                .filter(intake -> intake.from().equals(Intake.LINES) && intake.hook() != null)
                .forEach(this::look);
    }

    private void look(Intake intake) {
        String connection = String.valueOf(intake.hook());
        if (clock.instant().isBefore(later.getOrDefault(intake.name(), Instant.MIN))
                || stops.holdsConnection(connection)) {
            return;
        }
        try {
            connections.followed(connection).ifPresent(path -> follow(intake, path));
        } catch (Unavailable e) {
            throw e;
        } catch (TooMany | IllegalArgumentException e) { // what was allowed isn't any more
            later(intake, String.valueOf(e.getMessage()));
        } catch (RuntimeException e) {
            LOG.error("The file of ‘{}’ isn't followed at the moment; it is tried again.", intake.name(), e);
            later(intake, "it can't be taken in by a fault of ours, which the service's log tells");
        }
    }

    private void later(Intake intake, String trouble) {
        later.put(intake.name(), clock.instant().plus(AGAIN));
        rows.find(intake.name())
                .filter(row -> !row.trouble().equals(trouble))
                .ifPresent(row -> put(row.in(MailRequests.bounded(trouble, 1_000), clock.instant())));
    }

    private void follow(Intake intake, FollowedPath path) {
        try {
            Optional<FollowedRow> known = rows.find(intake.name())
                    .filter(row -> row.path().equals(path.path().toString()));
            FollowedRow row = known.isPresent() ? known.get() : put(begin(intake, path));
            for (int part = 0; part < MOST_PARTS; part++) {
                Optional<FollowedRow> next = step(intake, path, row);
                if (next.isEmpty()) {
                    return;
                }
                row = next.get();
            }
        } catch (NoSuchFileException e) {
            // it isn't there yet, or it is being moved away at this moment
        } catch (IOException e) {
            later(intake, String.valueOf(e.getMessage()));
        }
    }

    /** Whatever comes to a file that isn't there yet is new. */
    private FollowedRow begin(Intake intake, FollowedPath path) throws IOException {
        String key = "";
        long end = 0;
        try {
            LogFile file = LogFile.at(path.real());
            key = file.key();
            end = file.size();
        } catch (NoSuchFileException e) {
            LOG.info("‘{}’ isn't there yet; it is followed once it is.", path.path());
        }
        return new FollowedRow(intake.name(), path.path().toString(), key, end, end, clock.instant(), "");
    }

    /** Takes in the next part; empty when there is none yet. */
    private Optional<FollowedRow> step(Intake intake, FollowedPath path, FollowedRow row) throws IOException {
        LogFile now = LogFile.at(path.real());
        if (now.key().equals(row.fileKey())) {
            return now.size() < row.readingTo()
                    ? Optional.of(put(anew(row, now))) // it was emptied, and begins anew
                    : part(intake, now, row);
        }
        Optional<LogFile> before = row.fileKey().isEmpty() ? Optional.empty() : now.beside(row.fileKey());
        if (before.isPresent() && before.get().size() >= row.readingTo()) {
            Optional<FollowedRow> rest = part(intake, before.get(), row);
            if (rest.isPresent()) {
                return rest;
            } else if (before.get().size() > row.readTo()) {
                missing(row, "the last line of a file that was moved away has no end, and wasn't taken in");
            }
        } else if (!row.fileKey().isEmpty()) {
            missing(row, "a file was replaced before all of it was read, and isn't found beside the new one");
        }
        return Optional.of(put(anew(row, now)));
    }

    /** Says that lines may be missing where it is said, too, what was refused. */
    private void missing(FollowedRow row, String why) {
        LOG.warn("‘{}’: {}: lines may be missing.", row.path(), why);
        events.refused(row.intake(), why + ": lines may be missing");
    }

    private FollowedRow anew(FollowedRow row, LogFile file) {
        return new FollowedRow(row.intake(), row.path(), file.key(), 0, 0, clock.instant(), "");
    }

    private Optional<FollowedRow> part(Intake intake, LogFile file, FollowedRow row) throws IOException {
        FollowedRow reading = row;
        if (row.readingTo() == row.readTo()) {
            long end = file.linesFrom(row.readTo(), LineBody.LONGEST, LineBody.MOST);
            if (end == row.readTo()) {
                return Optional.empty();
            }
            reading = put(row.reading(end, clock.instant()));
        }
        byte[] body = file.bytes(reading.readTo(), reading.readingTo());
        try {
            String trouble = take(intake, reading, body);
            return Optional.of(put(reading.read(clock.instant(), trouble)));
        } catch (TooMany e) {
            int lines = lines(body);
            if (lines <= 1) {
                throw e; // it waits
            }
            long half = file.linesFrom(reading.readTo(), LineBody.LONGEST, lines / 2);
            return Optional.of(put(reading.reading(half, clock.instant())));
        }
    }

    private static int lines(byte[] body) {
        int lines = 0;
        for (byte one : body) {
            lines += one == '\n' ? 1 : 0;
        }
        return lines;
    }

    /** Takes lines in; gives what was wrong with them. */
    private String take(Intake intake, FollowedRow row, byte[] body) {
        Intakes.Known known = intakes.find(intake.name()).orElse(null);
        if (known == null) {
            return "";
        }
        Sender sender = Sender.signing(String.valueOf(intake.hook()), false).by(Channel.LINES);
        try {
            List<OutsideEvent> lines = LineBody.read(body, intake.pattern() == null);
            String same = row.path() + " " + row.fileKey() + " " + row.readTo() + "-" + row.readingTo();
            events.followLines(known, sender, lines, same, new String(body, StandardCharsets.UTF_8));
            return "";
        } catch (UnreadableEvent e) {
            events.unreadable(known, sender, String.valueOf(e.getMessage()), body);
            return String.valueOf(e.getMessage());
        }
    }

    private FollowedRow put(FollowedRow row) {
        return writer.write(tx -> {
            rows.put(row);
            return row;
        });
    }

    /** How far a file is read; empty for an intake that follows none. */
    public Optional<FollowedRow> of(Intake intake) {
        return intake.hook() == null ? Optional.empty() : rows.find(intake.name());
    }
}
