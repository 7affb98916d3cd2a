package servitor.service.intake;

import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import servitor.connectors.access.Access;
import servitor.connectors.mail.MailFolder;
import servitor.service.intake.MailWatches.Place;

/** Mailboxes that stay open from one look to the next, so that nobody signs in for each. Used by one thread. */
final class OpenMailboxes {
    private final Map<Place, Opened> open = new HashMap<>();

    private record Opened(Access access, MailFolder folder) {}

    /** Reads in an open mailbox. May be done again from the beginning, when the connection turns out to have ended. */
    interface Reading {
        void in(MailFolder folder) throws MailFolder.Trouble;
    }

    void read(Place place, Access access, Reading reading) throws MailFolder.Trouble {
        Opened kept = open.get(place);
        if (kept != null && kept.access().equals(access)) {
            try {
                reading.in(kept.folder());
                return;
            } catch (MailFolder.Trouble e) {
                // perhaps it has only ended since the last look
            }
        }
        close(place);
        Opened fresh = new Opened(access, MailFolder.open(access, place.folder()));
        open.put(place, fresh);
        try {
            reading.in(fresh.folder());
        } catch (MailFolder.Trouble e) {
            close(place);
            throw e;
        }
    }

    /** Closes all but these. */
    void keep(Set<Place> places) {
        Set.copyOf(open.keySet()).stream()
                .filter(place -> !places.contains(place))
                .forEach(this::close);
    }

    private void close(Place place) {
        Opened kept = open.remove(place);
        if (kept != null) {
            kept.folder().close();
        }
    }
}
