package servitor.service.live;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
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
import servitor.service.live.RecentChanges.Past;
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
    private static final int ALIVE_SECONDS = 20;
    /** Told instead of what came since: whoever looks on asks for everything anew. */
    private static final String ALL = "{\"missed\": true}";

    private static final Set<String> FOR_STAFF = Set.of("edition", "stop");

    private final Map<Long, Watcher> watchers = new ConcurrentHashMap<>();
    private final AtomicLong numbers = new AtomicLong();
    private final RecentChanges past = new RecentChanges();
    private final ScheduledExecutorService sender = Executors.newSingleThreadScheduledExecutor(task -> {
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
            if (!changes.isEmpty()) {
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
                if (!changes.isEmpty()) {
                    sender.execute(() -> send(changes));
                }
            } catch (RuntimeException e) {
                LOG.warn("What other processes do can't be seen at the moment: {}", e.toString());
            }
            LockSupport.parkNanos(TimeUnit.SECONDS.toNanos(1));
        }
    }

    /**
     * A stream of changes for {@code person}, until they go away or half an hour has passed.
     *
     * @param last the id of the event that was seen last; what came since is told first. Null for a first look
     */
    public SseEmitter watch(Person person, @Nullable String last) {
        if (watchers.size() >= MOST) {
            throw new Unavailable("Too many people are looking on live; reload later.");
        }
        endOldestOf(person);
        long number = numbers.incrementAndGet();
        SseEmitter emitter = new SseEmitter(FOR_MILLIS);
        emitter.onCompletion(() -> watchers.remove(number));
        emitter.onTimeout(emitter::complete);
        emitter.onError(e -> watchers.remove(number));
        Watcher watcher = new Watcher(person, emitter);
        watchers.put(number, watcher); // at once, so that whoever loses rights meanwhile loses the stream as well
        sender.execute(() -> begin(number, watcher, last));
        return emitter;
    }

    /** In the sender's turn, so that nothing is left out between what is past and what comes. */
    private void begin(Long number, Watcher watcher, @Nullable String last) {
        if (!watchers.containsKey(number)) {
            return; // it has ended before it began
        }
        Optional<List<Past>> missed = past.since(last);
        tell(number, watcher, SseEmitter.event().id(past.newest()).name("hello").data(missed.isPresent() ? "{}" : ALL));
        missed.orElse(List.of()).forEach(one -> tell(number, watcher, one));
    }

    private void tell(Long number, Watcher watcher, Past one) {
        if (watcher.mayHearOf(one.change())) {
            tell(
                    number,
                    watcher,
                    SseEmitter.event()
                            .id(one.id())
                            .name("changed")
                            .data(Json.write(Json.object()
                                    .put("what", one.change().what())
                                    .put("id", one.change().id()))));
        }
    }

    private void tell(Long number, Watcher watcher, SseEmitter.SseEventBuilder event) {
        try {
            watcher.emitter().send(event);
        } catch (IOException | IllegalStateException e) {
            LOG.debug("A live watcher has gone: {}", e.getMessage());
            watchers.remove(number);
        }
    }

    /** A word now and then, so that nobody in between takes a quiet stream for a dead one. */
    private void keepAlive() {
        watchers.forEach(
                (number, watcher) -> tell(number, watcher, SseEmitter.event().comment("still here")));
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
        List<Past> told = changes.stream().map(past::add).toList();
        watchers.forEach((number, watcher) -> told.forEach(one -> tell(number, watcher, one)));
    }

    @Override
    public void start() {
        running = true;
        sender.scheduleWithFixedDelay(this::keepAlive, ALIVE_SECONDS, ALIVE_SECONDS, TimeUnit.SECONDS);
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
