package servitor.service.intake;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import servitor.connectors.access.Access;
import servitor.connectors.mail.MailFolder;

/**
 * Listens to mail servers, so that what comes is read at once. It only says that something came: whatever it misses is found by
 * looking, which goes on as if nobody listened.
 */
final class MailWatches {
    private static final Logger LOG = LoggerFactory.getLogger(MailWatches.class);
    /** Between two attempts at a server that can't be listened to. */
    private static final Duration LATER = Duration.ofMinutes(1);
    /** Before a server is listened to again after its connection ended. */
    private static final Duration SOON = Duration.ofSeconds(1);

    private final Function<String, Optional<Access>> access;
    private final Consumer<Place> came;
    private final Map<Place, Watch> watches = new ConcurrentHashMap<>();

    /** A folder behind a connection. */
    record Place(String connection, String folder) {}

    /**
     * Nobody is listened to yet.
     *
     * @param access what a connection of a name is reached by
     * @param came told where something may have come; by any thread
     */
    MailWatches(Function<String, Optional<Access>> access, Consumer<Place> came) {
        this.access = access;
        this.came = came;
    }

    /** Listens to these from now on, by what reaches them now, and to no other. */
    void keep(Set<Place> places) {
        List.copyOf(watches.values()).stream()
                .filter(watch -> !places.contains(watch.place) || !watch.isCurrent())
                .forEach(watch -> {
                    watches.remove(watch.place);
                    watch.end();
                });
        places.forEach(place -> watches.computeIfAbsent(place, this::begin));
    }

    private Watch begin(Place place) {
        Watch watch = new Watch(place);
        Thread thread = new Thread(watch::listen, "mail-" + place.connection());
        thread.setDaemon(true);
        thread.start();
        return watch;
    }

    private final class Watch {
        private final Place place;
        private final CountDownLatch ended = new CountDownLatch(1);
        private volatile @Nullable MailFolder listening;
        private volatile Optional<Access> by = Optional.empty();

        private Watch(Place place) {
            this.place = place;
        }

        private void listen() {
            try {
                do {
                    by = access.apply(place.connection());
                    try (MailFolder folder = by.isEmpty() ? null : MailFolder.listening(by.get(), place.folder())) {
                        listening = folder;
                        while (folder != null && ended.getCount() > 0) {
                            came.accept(place); // also what came before anybody listened
                            folder.awaitChange();
                        }
                    } catch (MailFolder.Trouble | RuntimeException e) {
                        LOG.debug("{} of {} isn't listened to: {}", place.folder(), place.connection(), e.getMessage());
                    }
                } while (!ended.await(pause().toMillis(), TimeUnit.MILLISECONDS));
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }

        /** Whether the server is still reached in the same way. */
        private boolean isCurrent() {
            return by.isEmpty() || by.equals(access.apply(place.connection()));
        }

        /** A server that was listened to only has to be asked again. */
        private Duration pause() {
            Duration pause = listening == null ? LATER : SOON;
            listening = null;
            return pause;
        }

        private void end() {
            ended.countDown();
            MailFolder open = listening;
            if (open != null) {
                open.abandon();
            }
        }
    }
}
