package servitor.service.intake;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;

/** A file that grows by lines, known by what it is and not by its name. */
record LogFile(Path path, String key, long size) {
    /** Of the files beside it, so many are looked at for the one that had its name before. */
    private static final int MOST_BESIDE = 2_000;

    static LogFile at(Path path) throws IOException {
        BasicFileAttributes attributes = Files.readAttributes(path, BasicFileAttributes.class);
        if (!attributes.isRegularFile()) {
            throw new IOException("‘" + path + "’ isn't a plain file");
        }
        // a file system without keys tells files apart by when they were made
        String key = Objects.toString(attributes.fileKey(), String.valueOf(attributes.creationTime()));
        return new LogFile(path, key, attributes.size());
    }

    /** The file of this key beside it: the one that was moved away when this one took its name. */
    Optional<LogFile> beside(String other) throws IOException {
        try (Stream<Path> all = Files.list(Objects.requireNonNull(path.getParent()))) {
            return all.limit(MOST_BESIDE)
                    .flatMap(one -> {
                        try {
                            return Stream.of(at(one));
                        } catch (IOException e) { // a folder, or gone meanwhile
                            return Stream.<LogFile>empty();
                        }
                    })
                    .filter(one -> one.key().equals(other))
                    .findFirst();
        }
    }

    /** The bytes from one place to another. */
    byte[] bytes(long from, long to) throws IOException {
        ByteBuffer buffer = ByteBuffer.allocate(Math.toIntExact(to - from));
        try (SeekableByteChannel channel = Files.newByteChannel(path, StandardOpenOption.READ)) {
            channel.position(from);
            while (buffer.hasRemaining() && channel.read(buffer) >= 0) {
                // until all is there
            }
        }
        if (buffer.hasRemaining()) {
            throw new IOException("‘" + path + "’ ends before byte " + to);
        }
        return buffer.array();
    }

    /**
     * Where the whole lines end that begin at {@code from}, of at most so many bytes and lines; {@code from} when there is none yet. A line
     * that is longer than that ends there.
     */
    long linesFrom(long from, int mostBytes, int mostLines) throws IOException {
        long to = Math.min(size, from + mostBytes);
        byte[] bytes = bytes(from, to);
        long end = from;
        int lines = 0;
        for (int i = 0; i < bytes.length && lines < mostLines; i++) {
            if (bytes[i] == '\n') {
                end = from + i + 1;
                lines++;
            }
        }
        return end == from && bytes.length == mostBytes ? to : end;
    }
}
