package servitor.service.intake;

import java.time.Duration;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Access;
import servitor.connectors.mail.MailFolder;
import servitor.service.Rounds;
import servitor.service.ServitorSettings;
import servitor.service.connections.Connections;
import servitor.service.intake.MailWatches.Place;
import servitor.service.runs.Stops;

/** Looks into the mailboxes of the edition in force, again and again; a mailbox that can't be read holds up no other. */
@Component
class MailPoller implements SmartLifecycle {
    private static final Logger LOG = LoggerFactory.getLogger(MailPoller.class);

    private final MailboxReader reader;
    private final Connections connections;
    private final Stops stops;
    private final Duration every;
    private final Rounds rounds;
    private final MailWatches watches;
    private final OpenMailboxes open = new OpenMailboxes();
    /** Where something may have come since it was looked at. */
    private final Set<Place> came = ConcurrentHashMap.newKeySet();

    private long lookedEverywhere;

    MailPoller(MailboxReader reader, Connections connections, Stops stops, ServitorSettings settings) {
        this.reader = reader;
        this.connections = connections;
        this.stops = stops;
        this.every = settings.mailEvery();
        this.rounds = new Rounds("mail", every, this::look);
        this.watches = new MailWatches(connections::access, this::came);
    }

    private void came(Place place) {
        came.add(place);
        rounds.wake();
    }

    /** Looks where something came, or everywhere when it is time. */
    private void look() {
        Set<Place> wanted = reader.places().stream()
                .filter(place -> !stops.holdsConnection(place.connection()))
                .collect(Collectors.toSet());
        boolean everywhere = System.nanoTime() - lookedEverywhere >= every.toNanos();
        if (everywhere) {
            lookedEverywhere = System.nanoTime();
            watches.keep(wanted);
            open.keep(wanted);
        }
        Set<Place> news = new HashSet<>(came);
        came.removeAll(news);
        wanted.stream()
                .filter(place -> rounds.goOn() && (everywhere || news.contains(place)))
                .forEach(this::lookInto);
    }

    private void lookInto(Place place) {
        try {
            Optional<Access> access = connections.access(place.connection());
            if (access.isEmpty()) {
                reader.fails(place, "the connection ‘" + place.connection() + "’ isn't set up");
                return;
            }
            Access by = access.get();
            open.read(place, by, folder -> reader.read(place, by, folder, rounds::goOn));
        } catch (MailFolder.Trouble | RuntimeException e) {
            LOG.warn("{} of {} can't be read: {}", place.folder(), place.connection(), e.getMessage());
            reader.fails(place, String.valueOf(e.getMessage()));
        }
    }

    @Override
    public void start() {
        lookedEverywhere = System.nanoTime() - every.toNanos(); // it is time
        rounds.start();
    }

    @Override
    public void stop() {
        watches.keep(Set.of());
        rounds.stop();
        open.keep(Set.of());
    }

    @Override
    public boolean isRunning() {
        return rounds.goOn();
    }
}
