package servitor.service.ledger;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Optional;
import servitor.core.json.Json;
import servitor.service.OwnerOnly;

/**
 * The head of the trail in a small file beside the database, written after every commit and before anybody is told of it.
 * A database that ends before it has lost what was acknowledged. Two places are written in turn, so that one is whole
 * whatever happens while the other is written.
 */
final class HeadFile implements AutoCloseable {
    private static final int PLACE = 256;

    private final FileChannel channel;
    private final boolean forced;
    private int next;

    /**
     * Opens the file, which needn't be there.
     *
     * @param forced whether each write must reach the disk itself
     */
    HeadFile(Path file, boolean forced) {
        this.forced = forced;
        try {
            OwnerOnly.file(file);
            this.channel = FileChannel.open(
                    file, StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE);
        } catch (IOException e) {
            throw new UncheckedIOException(file + " can't be opened", e);
        }
    }

    /** The newest head written; empty when none was, or the file holds none that is whole. */
    static Optional<HeadRow> read(Path file) {
        if (!Files.exists(file)) {
            return Optional.empty();
        }
        try {
            byte[] all = Files.readAllBytes(file);
            Optional<HeadRow> newest = Optional.empty();
            for (int at = 0; at + PLACE <= all.length; at += PLACE) {
                Optional<HeadRow> found = parse(new String(all, at, PLACE, StandardCharsets.US_ASCII));
                if (newest.isEmpty()
                        || found.isPresent() && found.get().seq() > newest.get().seq()) {
                    newest = found;
                }
            }
            return newest;
        } catch (IOException e) {
            throw new UncheckedIOException(file + " can't be read", e);
        }
    }

    /** A file that holds one head, such as the one of a backup. */
    static void write(Path file, HeadRow head) throws IOException {
        Files.write(file, place(head));
    }

    private static byte[] place(HeadRow head) {
        String text = head.seq() + " " + head.hash();
        return String.format("%-255s%n", text + " " + Json.digest(text)).getBytes(StandardCharsets.US_ASCII);
    }

    private static Optional<HeadRow> parse(String place) {
        String[] parts = place.strip().split(" ");
        boolean whole = parts.length == 3
                && parts[0].matches("\\d{1,18}")
                && parts[2].equals(Json.digest(parts[0] + " " + parts[1]));
        return whole ? Optional.of(new HeadRow(Long.parseLong(parts[0]), parts[1])) : Optional.empty();
    }

    void write(HeadRow head) {
        try {
            channel.write(ByteBuffer.wrap(place(head)), (long) next * PLACE);
            if (forced) {
                channel.force(false);
            }
            next = 1 - next;
        } catch (IOException e) {
            throw new UncheckedIOException("the head of the trail can't be written", e);
        }
    }

    @Override
    public void close() throws IOException {
        channel.close();
    }
}
