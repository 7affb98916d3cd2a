package servitor.service.live;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.LockSupport;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.service.ServitorSettings;
import servitor.service.Unavailable;
import servitor.service.cases.CaseStore;
import servitor.service.ledger.LedgerTransaction.Changed;
import servitor.service.ledger.TrailStore;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;

/**
 * Tells people looking on what has changed: only that it has, and only what they may see. What it is now they ask for
 * themselves, so that one place decides who sees what.
 */
@Component
public class LiveHub implements SmartLifecycle {
    private static final Logger LOG = LoggerFactory.getLogger(LiveHub.class);
    private static final long FOR_MILLIS = 30 * 60 * 1000L;
    private static final int MOST = 500;
    private static final int EACH = 6;
    private static final Set<String> FOR_STAFF = Set.of("edition", "stop");

    private final Map<Long, Watcher> watchers = new ConcurrentHashMap<>();
    private final AtomicLong numbers = new AtomicLong();
    private final ExecutorService sender = Executors.newSingleThreadExecutor(task -> {
        Thread thread = new Thread(task, "live");
        thread.setDaemon(true);
        return thread;
    });

    private final @Nullable Thread others;
    private volatile boolean running;

    private record Watcher(Person person, SseEmitter emitter) {
        boolean mayHearOf(Changed change) {
            return person.staffDesks().contains(change.desk())
                    || change.requester().equals(person.id())
                    || change.of().stream().anyMatch(person.answersFor()::contains)
                    || FOR_STAFF.contains(change.what()) && person.isStaff();
        }
    }

    LiveHub(Writer writer, TrailStore trailStore, CaseStore caseStore, ServitorSettings settings) {
        this.others = settings.isShared() ? new Thread(() -> watchOthers(trailStore, caseStore), "others") : null;
        writer.onCommit(changes -> {
            if (!changes.isEmpty() && !watchers.isEmpty()) {
                sender.execute(() -> send(List.copyOf(changes)));
            }
        });
    }

    /** Where several processes share the database, what the others do is seen on the trail. */
    private void watchOthers(TrailStore trailStore, CaseStore caseStore) {
        long seen = -1;
        while (running) {
            try {
                if (seen < 0) {
                    seen = trailStore.head();
                }
                List<RecordedEntry> entries = trailStore.after(seen, 500);
                List<Changed> changes = new ArrayList<>();
                for (RecordedEntry entry : entries) {
                    seen = entry.entry().seq();
                    caseStore
                            .find(entry.entry().caseId())
                            .map(row -> new Changed("case", row.id(), row.desk(), row.requester()))
                            .filter(change -> !changes.contains(change))
                            .ifPresent(changes::add);
                }
                if (!changes.isEmpty() && !watchers.isEmpty()) {
                    sender.execute(() -> send(changes));
                }
            } catch (RuntimeException e) {
                LOG.warn("What other processes do can't be seen at the moment: {}", e.toString());
            }
            LockSupport.parkNanos(TimeUnit.SECONDS.toNanos(1));
        }
    }

    /** A stream of changes for {@code person}, until they go away or half an hour has passed. */
    public SseEmitter watch(Person person) {
        if (watchers.size() >= MOST) {
            throw new Unavailable("Too many people are looking on live; reload later.");
        }
        endOldestOf(person);
        long number = numbers.incrementAndGet();
        SseEmitter emitter = new SseEmitter(FOR_MILLIS);
        emitter.onCompletion(() -> watchers.remove(number));
        emitter.onTimeout(emitter::complete);
        emitter.onError(e -> watchers.remove(number));
        watchers.put(number, new Watcher(person, emitter));
        try {
            emitter.send(SseEmitter.event().name("hello").data("{}"));
        } catch (IOException e) {
            watchers.remove(number);
        }
        return emitter;
    }

    /** Nobody takes the streams of others: beyond a few of one's own the oldest ends. */
    private void endOldestOf(Person person) {
        List<Long> own = watchers.entrySet().stream()
                .filter(entry -> entry.getValue().person().id().equals(person.id()))
                .map(Map.Entry::getKey)
                .sorted()
                .toList();
        own.stream().limit(Math.max(0, own.size() - EACH + 1)).forEach(this::end);
    }

    private void end(Long number) {
        Watcher watcher = watchers.remove(number);
        if (watcher != null) {
            watcher.emitter().complete();
        }
    }

    /** What somebody may see may be another by now: they come back, if they still may, as who they are then. */
    private void endStreamsOf(String person) {
        watchers.entrySet().stream()
                .filter(entry -> entry.getValue().person().id().equals(person))
                .map(Map.Entry::getKey)
                .toList()
                .forEach(this::end);
    }

    private void send(List<Changed> changes) {
        changes.stream().filter(change -> change.what().equals("person")).forEach(change -> endStreamsOf(change.id()));
        watchers.forEach((number, watcher) -> {
            for (Changed change : changes) {
                if (watcher.mayHearOf(change)) {
                    try {
                        watcher.emitter()
                                .send(SseEmitter.event()
                                        .name("changed")
                                        .data(Json.write(Json.object()
                                                .put("what", change.what())
                                                .put("id", change.id()))));
                    } catch (IOException | IllegalStateException e) {
                        LOG.debug("A live watcher has gone: {}", e.getMessage());
                        watchers.remove(number);
                        return;
                    }
                }
            }
        });
    }

    @Override
    public void start() {
        running = true;
        if (others != null) {
            others.setDaemon(true);
            others.start();
        }
    }

    /** Ends every stream before the web server waits for its requests to end, which these never would by themselves. */
    @Override
    public void stop() {
        running = false;
        watchers.values().forEach(watcher -> watcher.emitter().complete());
        sender.shutdown();
    }

    @Override
    public boolean isRunning() {
        return running;
    }
}
