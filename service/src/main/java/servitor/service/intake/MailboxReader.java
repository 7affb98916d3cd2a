package servitor.service.intake;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.mail.MailAddress;
import servitor.connectors.mail.MailFolder;
import servitor.core.handbook.Desk;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Letterhead;
import servitor.service.editions.Editions;
import servitor.service.intake.MailWatches.Place;

/**
 * Reads what is new in a mailbox, for the intakes that are in force. Each keeps its own place in it, which is written with what was
 * taken in. Used by one thread.
 */
@Component
class MailboxReader {
    private static final Logger LOG = LoggerFactory.getLogger(MailboxReader.class);
    private static final int AT_ONCE = 100;
    /** How often it is noted that a mailbox was looked at, while nothing comes. */
    private static final Duration OFTEN = Duration.ofMinutes(1);

    private final MailIntake intake;
    private final MailStore mails;
    private final Editions editions;
    private final Clock clock;
    /** Intakes that this process has read for. */
    private final Set<String> begun = new HashSet<>();

    MailboxReader(MailIntake intake, MailStore mails, Editions editions, Clock clock) {
        this.intake = intake;
        this.mails = mails;
        this.editions = editions;
        this.clock = clock;
    }

    /** The mailboxes of the edition in force. */
    Set<Place> places() {
        return intakes().values().stream().map(MailboxReader::placeOf).collect(Collectors.toSet());
    }

    private static Place placeOf(Intake one) {
        Intake.Mailbox mailbox = Objects.requireNonNull(one.mailbox());
        return new Place(mailbox.connection(), mailbox.folder());
    }

    /** The intakes of the edition in force that have mailboxes, in the order of their names: the first that takes a mail has it. */
    private Map<String, Intake> intakes() {
        return editions.current().stream()
                .flatMap(edition -> edition.handbook().intake().values().stream())
                .filter(one -> one.mailbox() != null)
                .collect(Collectors.toMap(Intake::name, one -> one, (first, second) -> first, TreeMap::new));
    }

    private List<Intake> intakes(Place place) {
        return intakes().values().stream()
                .filter(one -> placeOf(one).equals(place))
                .toList();
    }

    /**
     * Takes in what is new for any of the intakes.
     *
     * @param goOn asked before each further look
     */
    void read(Place place, Access access, MailFolder folder, BooleanSupplier goOn) throws MailFolder.Trouble {
        Instant now = clock.instant();
        long validity = folder.validity();
        Map<String, Reading> readings = new TreeMap<>();
        intakes(place).forEach(one -> readings.put(one.name(), new Reading(one, stands(one, now), validity, now)));
        long from = readings.values().stream().mapToLong(Reading::from).min().orElse(Long.MAX_VALUE);
        List<Long> more;
        do {
            more = folder.after(from, AT_ONCE);
            for (long uid : more) {
                from = uid;
                byte[] raw = null;
                for (Intake one : intakes(place)) { // what is published meanwhile counts for every further mail
                    Reading reading = readings.get(one.name());
                    if (reading != null && reading.wants(one, uid)) {
                        raw = raw == null ? folder.bytes(uid).orElse(null) : raw;
                        reading.take(one, access, folder, uid, raw);
                    }
                }
            }
        } while (!more.isEmpty() && goOn.getAsBoolean());
        readings.values().forEach(Reading::end);
        begun.addAll(readings.keySet());
    }

    /** Where reading stands for an intake. */
    private MailboxRow stands(Intake one, Instant now) {
        String place = placeOf(one).connection() + " " + placeOf(one).folder();
        return mails.mailbox(one.name())
                .filter(row -> row.place().equals(place))
                .orElse(new MailboxRow(one.name(), place, 0, 0, now, ""));
    }

    /** A look for one intake. */
    private final class Reading {
        private final Intake.Mailbox mailbox;
        private final long validity;
        private final Instant now;
        /** Whether nothing is noted of the mailbox as it is now. */
        private final boolean isNew;

        private final boolean again;
        private MailboxRow stands;
        private String unmarked;
        /** Why no further mail is taken in for it in this look; empty while all goes well. */
        private String broken = "";

        private Reading(Intake one, MailboxRow from, long validity, Instant now) {
            this.mailbox = Objects.requireNonNull(one.mailbox());
            this.validity = validity;
            this.now = now;
            this.isNew = from.validity() != validity;
            this.again = !begun.contains(one.name());
            this.stands = validity == from.validity() ? from : from.at(validity, 0, now);
            // what can't be marked stays so until something can be, or is to be marked in another way
            this.unmarked = from.trouble().startsWith(unmarked()) ? from.trouble() : "";
        }

        /**
         * Mails behind this one are read. The last that was taken in is read again by a new process: the former may have ended
         * before it was marked, and it becomes nothing twice.
         */
        private long from() {
            return again ? Math.max(0, stands.uid() - 1) : stands.uid();
        }

        /** Whether a mail is to be read for the intake as it is in force. */
        private boolean wants(Intake one, long uid) {
            return mailbox.equals(one.mailbox()) && from() < uid && broken.isEmpty();
        }

        /** Takes one mail in. What stands in the way of marking it keeps no other from being read. */
        private void take(Intake one, Access access, MailFolder folder, long uid, byte @Nullable [] raw) {
            MailboxRow behind = stands.at(validity, uid, now);
            try {
                boolean became = raw != null
                        && intake.take(one, MailAddress.of(access.address()).proof(), own(access), raw, behind);
                stands = behind;
                if (became) {
                    folder.taken(uid, mailbox.taken());
                    unmarked = "";
                }
            } catch (MailFolder.Trouble e) {
                unmarked = unmarked() + e.getMessage();
            } catch (RuntimeException e) { // the other intakes of the mailbox go on
                LOG.warn("A mail can't be taken in for ‘{}’", one.name(), e);
                broken = "a mail can't be taken in: " + e.getMessage();
            }
        }

        private String unmarked() {
            return "what was taken in can't be "
                    + (mailbox.taken().isEmpty() ? "flagged" : "moved to ‘" + mailbox.taken() + "’") + ": ";
        }

        private void end() {
            if (!broken.isEmpty() || !unmarked.isEmpty()) {
                fails(stands, broken.isEmpty() ? unmarked : broken, now);
            } else if (!stands.trouble().isEmpty()
                    || stands.looked().plus(OFTEN).isBefore(now)
                    || isNew) {
                intake.stands(stands.at(validity, stands.uid(), now));
            }
        }
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

    /** Notes why a mailbox can't be read. */
    void fails(Place place, String why) {
        Instant now = clock.instant();
        intakes(place).forEach(one -> fails(stands(one, now), why, now));
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
}
