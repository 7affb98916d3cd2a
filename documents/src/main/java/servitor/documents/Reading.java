package servitor.documents;

import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;
import tools.jackson.core.JacksonException;

/**
 * Reads documents, each in a process of its own that ends with it: whatever a file does costs that one reading. A few at once; the next
 * process is started beforehand, as starting takes longer than reading. Safe for use by several threads.
 */
public final class Reading implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Reading.class);
    private static final int AT_ONCE = 2;
    private static final int LONGEST_ANSWER = 20_000_000;
    /** What a process ends with when it has no memory left. */
    private static final int OUT_OF_MEMORY = 3;

    /** What every PNG begins with (RFC 2083, section 3.1). */
    private static final byte[] PNG = {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1a, '\n'};

    private static final String UNKNOWN = "application/octet-stream";
    private static final String BROKE = "what reads broke on it";
    private static final Predicate<Object> BROKEN =
            answer -> answer instanceof ReadDocument read && read.detail().equals(BROKE);

    private static final String TYPE = "[a-z0-9.+/;= _-]{1,100}";

    private volatile Sandbox sandbox;
    private final Duration longest;
    private final Semaphore places = new Semaphore(AT_ONCE, true);
    private final AtomicReference<@Nullable Future<Process>> spare = new AtomicReference<>();
    private final ExecutorService threads = Executors.newCachedThreadPool(Reading::thread);
    private volatile @Nullable Path laidOut;
    /** One thread starts them all, and lives as long as this: bubblewrap ends what it contains with the thread that started it. */
    private final ExecutorService starter = Executors.newSingleThreadExecutor(Reading::thread);

    private static Thread thread(Runnable task) {
        Thread thread = new Thread(task, "reading");
        thread.setDaemon(true);
        return thread;
    }

    Reading(Sandbox sandbox, Duration longest) {
        this.sandbox = sandbox;
        this.longest = longest;
    }

    /** Readings that take so long at most. */
    public static Reading within(Duration longest) {
        Sandbox sandbox = Sandbox.ofThisMachine();
        if (!sandbox.contained()) {
            LOG.warn(
                    "Nothing contains what reads documents: install bubblewrap. Those of which it is only claimed whom they are "
                            + "from aren't opened.");
        }
        return new Reading(sandbox, longest);
    }

    /** Lets processes start sooner by laying their classes out in a new folder, meanwhile; nothing waits for that. */
    public Reading startingSooner() {
        threads.execute(() -> {
            try {
                laidOut = Files.createTempDirectory("servitor-reader");
                sandbox = sandbox.withClassesIn(laidOut);
            } catch (IOException e) {
                LOG.debug("They start as they do.", e);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        });
        return this;
    }

    /** Whether what reads has neither network nor files. */
    public boolean isContained() {
        return sandbox.contained();
    }

    /** Reads a document; {@code name} only tells tables of text from other text. */
    public ReadDocument read(byte[] content, String name) throws InterruptedException {
        if (content.length > Worker.MOST_BYTES) {
            return ReadDocument.nothing(ReadOutcome.TOO_LARGE, UNKNOWN, "it has " + content.length + " bytes");
        }
        return asked(content, name, 0, Reading::read, ReadDocument::nothing);
    }

    /** A page as a picture, as PNG; empty when there is none, or it can't be had at the moment. Pages count from 1. */
    public Optional<byte[]> picture(byte[] content, String name, int page) throws InterruptedException {
        return content.length > Worker.MOST_BYTES || page < 1
                ? Optional.empty()
                : asked(content, name, page, (exit, answer) -> png(answer), (why, type, detail) -> Optional.empty());
    }

    private static Optional<byte[]> png(byte[] answer) {
        boolean whole = answer.length <= LONGEST_ANSWER && answer.length > PNG.length;
        return whole && Arrays.equals(answer, 0, PNG.length, PNG, 0, PNG.length)
                ? Optional.of(answer)
                : Optional.empty();
    }

    /** What a process's answer means. */
    private interface Meaning<T> {
        T of(int exit, byte[] answer);
    }

    /** What is said when there is no answer. */
    private interface Failure<T> {
        T of(ReadOutcome why, String type, String detail);
    }

    private <T> T asked(byte[] content, String name, int page, Meaning<T> meaning, Failure<T> failure)
            throws InterruptedException {
        if (!places.tryAcquire(longest.toMillis(), TimeUnit.MILLISECONDS)) {
            return failure.of(ReadOutcome.NOT_READ, UNKNOWN, "too many documents are being read");
        }
        try {
            T first = askedAlone(content, name, page, meaning, failure);
            if (!BROKEN.test(first)) {
                return first;
            }
            startAnew();
            return askedAlone(content, name, page, meaning, failure);
        } finally {
            places.release();
        }
    }

    /** One that had been waiting may have been broken before its document came, and laid out classes may no longer fit. */
    private void startAnew() throws InterruptedException {
        sandbox = sandbox.withoutClasses();
        end(spare.getAndSet(null));
    }

    private <T> T askedAlone(byte[] content, String name, int page, Meaning<T> meaning, Failure<T> failure)
            throws InterruptedException {
        Process worker;
        try {
            worker = started();
            spare.compareAndSet(null, starter.submit(() -> sandbox.start())); // the next one is there when it is wanted
        } catch (ExecutionException | RejectedExecutionException e) {
            return failure.of(ReadOutcome.NOT_READ, UNKNOWN, "what reads can't be started");
        }
        CompletableFuture<byte[]> answer =
                CompletableFuture.supplyAsync(() -> talk(worker, content, name, page), threads);
        try {
            byte[] read = answer.get(longest.toMillis(), TimeUnit.MILLISECONDS);
            return meaning.of(worker.waitFor(1, TimeUnit.SECONDS) ? worker.exitValue() : 0, read);
        } catch (TimeoutException e) {
            return failure.of(ReadOutcome.TOOK_TOO_LONG, UNKNOWN, "longer than " + longest.toSeconds() + " s");
        } catch (ExecutionException e) { // it ended before it had the document
            return meaning.of(worker.waitFor(1, TimeUnit.SECONDS) ? worker.exitValue() : 1, new byte[0]);
        } finally {
            worker.destroyForcibly();
        }
    }

    private Process started() throws InterruptedException, ExecutionException {
        Future<Process> waiting = spare.getAndSet(null);
        if (waiting != null) {
            Process process = waiting.get();
            if (process.isAlive()) {
                return process;
            }
        }
        return starter.submit(() -> sandbox.start()).get();
    }

    private static byte[] talk(Process worker, byte[] content, String name, int page) {
        try (DataOutputStream out = new DataOutputStream(worker.getOutputStream());
                InputStream in = worker.getInputStream()) {
            byte[] called = name.substring(0, Math.min(name.length(), 200)).getBytes(StandardCharsets.UTF_8);
            out.writeInt(page);
            out.writeInt(called.length);
            out.write(called);
            out.writeInt(content.length);
            out.write(content);
            out.flush();
            return in.readNBytes(LONGEST_ANSWER + 1);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Its answer is taken for no more than it is: the file may have made of the process whatever it wanted. */
    private static ReadDocument read(int exit, byte[] answer) {
        if (exit == OUT_OF_MEMORY || answer.length > LONGEST_ANSWER) {
            return ReadDocument.nothing(
                    ReadOutcome.TOO_LARGE, UNKNOWN, "reading it takes more memory than there is for it");
        }
        if (answer.length == 0) {
            LOG.warn("What reads documents ended with {} and without an answer.", exit);
            return ReadDocument.nothing(ReadOutcome.NOT_READ, UNKNOWN, BROKE);
        }
        try {
            ReadDocument read = Json.read(new String(answer, StandardCharsets.UTF_8), ReadDocument.class);
            return read.type().matches(TYPE) ? read : ReadDocument.nothing(ReadOutcome.NOT_READ, UNKNOWN, BROKE);
        } catch (JacksonException | IllegalArgumentException | NullPointerException e) {
            LOG.warn(
                    "What reads documents gave an answer that is none: {}",
                    e.getClass().getSimpleName());
            return ReadDocument.nothing(ReadOutcome.NOT_READ, UNKNOWN, BROKE);
        }
    }

    /** Ends whatever reads. What is being started is awaited: half started, it would be left behind. */
    @Override
    public void close() {
        starter.shutdown();
        threads.shutdownNow();
        Future<Process> waiting = spare.getAndSet(null);
        try {
            if (starter.awaitTermination(5, TimeUnit.SECONDS)) {
                end(waiting);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        if (laidOut != null) {
            deleted(laidOut);
        }
    }

    private static void end(@Nullable Future<Process> waiting) throws InterruptedException {
        if (waiting == null) {
            return;
        }
        try {
            waiting.get().destroyForcibly().waitFor(1, TimeUnit.SECONDS);
        } catch (ExecutionException e) {
            LOG.debug("What reads couldn't be started.", e);
        }
    }

    private static void deleted(Path folder) {
        try (Stream<Path> files = Files.list(folder)) {
            for (Path file : files.toList()) {
                Files.delete(file);
            }
            Files.delete(folder);
        } catch (IOException e) {
            LOG.debug("{} is left behind.", folder, e);
        }
    }
}
