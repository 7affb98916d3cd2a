package servitor.service.intake;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.mail.MailAddress;
import servitor.connectors.mail.MailFolder;
import servitor.core.engine.Stop;
import servitor.core.handbook.Desk;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Letterhead;
import servitor.service.Rounds;
import servitor.service.ServitorSettings;
import servitor.service.connections.Connections;
import servitor.service.editions.Editions;
import servitor.service.intake.MailWatches.Place;
import servitor.service.runs.Stops;

/** Looks into the mailboxes of the edition in force, again and again; a mailbox that can't be read holds up no other. */
@Component
class MailPoller implements SmartLifecycle {
    private static final Logger LOG = LoggerFactory.getLogger(MailPoller.class);
    private static final int AT_ONCE = 100;
    /** How often it is noted that a mailbox was looked at, while nothing comes. */
    private static final Duration OFTEN = Duration.ofMinutes(1);

    private final MailIntake intake;
    private final MailStore mails;
    private final Editions editions;
    private final Connections connections;
    private final Stops stops;
    private final Clock clock;
    private final Rounds rounds;
    private final MailWatches watches;
    private final Duration every;
    /** Where something may have come since it was looked at. */
    private final Set<Place> came = ConcurrentHashMap.newKeySet();

    private long lookedEverywhere;

    MailPoller(
            MailIntake intake,
            MailStore mails,
            Editions editions,
            Connections connections,
            Stops stops,
            ServitorSettings settings,
            Clock clock) {
        this.rounds = new Rounds("mail", settings.mailEvery(), this::look);
        this.watches = new MailWatches(connections::access, this::came);
        this.every = settings.mailEvery();
        this.lookedEverywhere = System.nanoTime() - every.toNanos();
        this.intake = intake;
        this.mails = mails;
        this.editions = editions;
        this.connections = connections;
        this.stops = stops;
        this.clock = clock;
    }

    private void came(Place place) {
        came.add(place);
        rounds.wake();
    }

    /** Looks where something came, or everywhere when it is time. */
    private void look() {
        boolean everywhere = System.nanoTime() - lookedEverywhere >= every.toNanos();
        if (everywhere) {
            lookedEverywhere = System.nanoTime();
            watches.keep(wanted());
        }
        Set<Place> places = new HashSet<>(came);
        came.removeAll(places);
        for (String name : intakes().keySet()) {
            Intake one = intakes().get(name);
            if (rounds.goOn() && one != null && (everywhere || places.contains(placeOf(one)))) {
                lookInto(one);
            }
        }
    }

    /** The mailboxes of the edition in force that nobody has stopped. */
    private Set<Place> wanted() {
        return intakes().values().stream()
                .map(MailPoller::placeOf)
                .filter(place -> !isStopped(place.connection()))
                .collect(Collectors.toSet());
    }

    private static Place placeOf(Intake one) {
        Intake.Mailbox mailbox = Objects.requireNonNull(one.mailbox());
        return new Place(mailbox.connection(), mailbox.folder());
    }

    private boolean isStopped(String connection) {
        return stops.all().stream()
                .anyMatch(stop ->
                        stop.what() == Stop.What.CONNECTION && stop.name().equals(connection));
    }

    /** The intakes of the edition in force that have mailboxes, in the order of their names: the first that takes a mail has it. */
    private Map<String, Intake> intakes() {
        return editions.current().stream()
                .flatMap(edition -> edition.handbook().intake().values().stream())
                .filter(one -> one.mailbox() != null)
                .collect(Collectors.toMap(Intake::name, one -> one, (first, second) -> first, TreeMap::new));
    }

    /** An intake as it is in force now; empty when it no longer reads {@code mailbox}. */
    private Optional<Intake> stillReading(String intake, Intake.Mailbox mailbox) {
        return Optional.ofNullable(intakes().get(intake)).filter(one -> mailbox.equals(one.mailbox()));
    }

    /** Takes in what is new in the mailbox of an intake. */
    void lookInto(Intake one) {
        Intake.Mailbox mailbox = Objects.requireNonNull(one.mailbox());
        Instant now = clock.instant();
        String place = mailbox.connection() + " " + mailbox.folder();
        MailboxRow stands = mails.mailbox(one.name())
                .filter(row -> row.place().equals(place))
                .orElse(new MailboxRow(one.name(), place, 0, 0, now, ""));
        try {
            Optional<Access> access = connections.access(mailbox.connection());
            if (isStopped(mailbox.connection())) {
                return;
            } else if (access.isEmpty()) {
                fails(stands, "the connection ‘" + mailbox.connection() + "’ isn't set up", now);
                return;
            }
            read(one, mailbox, access.get(), stands, now);
        } catch (MailFolder.Trouble | RuntimeException e) {
            LOG.warn("The mailbox of ‘{}’ can't be read: {}", one.name(), e.getMessage());
            fails(mails.mailbox(one.name()).orElse(stands), String.valueOf(e.getMessage()), now);
        }
    }

    private void read(Intake one, Intake.Mailbox mailbox, Access access, MailboxRow from, Instant now)
            throws MailFolder.Trouble {
        try (MailFolder folder = MailFolder.open(access, mailbox.folder())) {
            long validity = folder.validity();
            MailboxRow stands = validity == from.validity() ? from : from.at(validity, 0, now);
            // what can't be marked stays so until something can be, or is to be marked in another way
            String unmarked = from.trouble().startsWith(unmarked(mailbox)) ? from.trouble() : "";
            List<Long> more;
            do {
                more = folder.after(stands.uid(), AT_ONCE);
                for (long uid : more) {
                    Optional<Intake> inForce = stillReading(one.name(), mailbox);
                    if (inForce.isEmpty()) {
                        return; // what is published meanwhile counts for every mail that is still to be read
                    }
                    stands = stands.at(validity, uid, now);
                    unmarked = take(inForce.get(), mailbox, access, folder, stands, unmarked);
                }
            } while (!more.isEmpty() && rounds.goOn());
            if (!unmarked.isEmpty()) {
                fails(stands, unmarked, now);
            } else if (!stands.trouble().isEmpty()
                    || stands.looked().plus(OFTEN).isBefore(now)
                    || from.validity() == 0) {
                intake.stands(stands.at(validity, stands.uid(), now));
            }
        }
    }

    /**
     * Takes one mail in. What stands in the way of marking it keeps no other from being read; returns what does now, {@code before}
     * when nothing had to be marked.
     */
    private String take(
            Intake one, Intake.Mailbox mailbox, Access access, MailFolder folder, MailboxRow behind, String before)
            throws MailFolder.Trouble {
        Optional<byte[]> raw = folder.bytes(behind.uid());
        boolean became = raw.isPresent()
                && intake.take(one, MailAddress.of(access.address()).proof(), own(access), raw.get(), behind);
        try {
            if (became) {
                folder.taken(behind.uid(), mailbox.taken());
            }
            return became ? "" : before;
        } catch (MailFolder.Trouble e) {
            return unmarked(mailbox) + e.getMessage();
        }
    }

    private static String unmarked(Intake.Mailbox mailbox) {
        return "what was taken in can't be "
                + (mailbox.taken().isEmpty() ? "flagged" : "moved to ‘" + mailbox.taken() + "’") + ": ";
    }

    /** Those that desks write from; and whoever reads a mailbox is often called as its address. */
    private Set<String> own(Access access) {
        Set<String> own = editions.current().stream()
                .flatMap(edition -> edition.handbook().desks().values().stream())
                .map(Desk::mail)
                .filter(Objects::nonNull)
                .map(Letterhead::address)
                .collect(Collectors.toSet());
        if (access.credentials() instanceof Credentials.Password password
                && password.user().contains("@")) {
            own.add(password.user());
        }
        return own;
    }

    private void fails(MailboxRow stands, String why, Instant now) {
        if (!stands.trouble().equals(why)) {
            try {
                intake.stands(stands.failing(why, now));
            } catch (RuntimeException e) {
                LOG.warn("That the mailbox of ‘{}’ can't be read wasn't noted: {}", stands.intake(), e.getMessage());
            }
        }
    }

    @Override
    public void start() {
        rounds.start();
    }

    @Override
    public void stop() {
        watches.keep(Set.of());
        rounds.stop();
    }

    @Override
    public boolean isRunning() {
        return rounds.goOn();
    }
}
