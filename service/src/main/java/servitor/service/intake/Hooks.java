package servitor.service.intake;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.inbound.HookAddress;
import servitor.connectors.inbound.SignedMessage;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Intake;
import servitor.core.intake.EventBody;
import servitor.core.intake.LineBody;
import servitor.core.intake.OutsideEvent;
import servitor.core.intake.UnreadableEvent;
import servitor.core.json.Json;
import servitor.service.cases.InvalidCase;
import servitor.service.connections.Connections;
import servitor.service.connections.KeyRing;
import servitor.service.people.Person;

/** Where outside systems post: those that sign their messages, and those that have a person of their own with a token. */
@Service
public class Hooks {
    private final Intakes intakes;
    private final EventIntake events;
    private final Connections connections;
    private final Clock clock;

    Hooks(Intakes intakes, EventIntake events, Connections connections, Clock clock) {
        this.intakes = intakes;
        this.events = events;
        this.connections = connections;
        this.clock = clock;
    }

    /**
     * A message as it was posted.
     *
     * @param type its media type; may be empty
     */
    public record Posted(String type, Function<String, @Nullable String> header, byte[] body) {}

    /** It isn't from whom it has to be. */
    public static final class Refused extends Exception {
        private static final long serialVersionUID = 1L;

        Refused(String why) {
            super(why);
        }
    }

    /** Whoever signs there can't be known at the moment: what the message is checked with isn't to be had. */
    public static final class NotSetUp extends Exception {
        private static final long serialVersionUID = 1L;

        NotSetUp(String why) {
            super(why);
        }
    }

    /**
     * Takes in what a person brings with a token; empty when nothing is posted to {@code name}.
     *
     * @throws InvalidCase when it can't be read at all
     */
    public Optional<List<Taken>> take(Person person, String name, Posted posted) {
        return intakes.posted(person, name).map(one -> take(one, Sender.of(person), posted, ""));
    }

    /**
     * Takes in one message that a person brings with a token, as JSON.
     *
     * @throws InvalidCase when it isn't what is declared, or can't become a case
     */
    public Optional<Taken> take(Person person, String name, OutsideEvent event) {
        return intakes.posted(person, name)
                .map(one -> events.take(one, Sender.of(person), List.of(event)).get(0));
    }

    /** Takes in what a system has signed; empty when no signed messages come to {@code name}. */
    public Optional<List<Taken>> takeSigned(String name, Posted posted) throws Refused, NotSetUp {
        Optional<Intakes.Known> found =
                intakes.posted(name).filter(one -> one.intake().hook() != null);
        if (found.isEmpty()) {
            return Optional.empty();
        }
        Intakes.Known known = found.get();
        String connection = String.valueOf(known.intake().hook());
        Access from = from(connection);
        Optional<String> fault = new SignedMessage(posted.header(), posted.body()).fault(from, clock.instant());
        if (fault.isPresent()) {
            events.refused(name, fault.get());
            throw new Refused(fault.get());
        }
        Sender sender =
                Sender.signing(connection, HookAddress.of(from.address()).vouches());
        return Optional.of(take(known, sender, posted, signedId(from, posted)));
    }

    /** The id that the convention signs; a signature of the body alone signs no other than the body. */
    private static String signedId(Access from, Posted posted) {
        String id = posted.header().apply("webhook-id");
        return from.credentials() instanceof Credentials.Signing && id != null
                ? id.strip()
                : Json.sha256(posted.body());
    }

    private Access from(String connection) throws NotSetUp {
        try {
            Optional<Access> found = connections.access(connection);
            URI address = found.map(Access::address).orElse(URI.create(""));
            if (found.isEmpty() || !HookAddress.SCHEME.equals(address.getScheme())) {
                throw new NotSetUp("the connection ‘" + connection + "’ isn't set to a system that signs messages");
            }
            return found.get();
        } catch (KeyRing.CannotOpen e) {
            throw new NotSetUp("the credentials of ‘" + connection + "’ can't be opened");
        }
    }

    /**
     * Takes in what was posted.
     *
     * @param signed what the sender has signed that makes a message the same as another; empty for what a person brings. Headers
     *     beside a signed body are anybody's: by them, a message could be played again under another name.
     */
    private List<Taken> take(Intakes.Known known, Sender sender, Posted posted, String signed) {
        boolean lines = known.intake().from().equals(Intake.LINES);
        List<OutsideEvent> read;
        try {
            read = lines
                    ? LineBody.read(posted.body(), known.intake().pattern() == null)
                    : EventBody.read(posted.type(), posted.header(), posted.body());
        } catch (UnreadableEvent e) {
            events.unreadable(known, sender, String.valueOf(e.getMessage()), posted.body());
            throw new InvalidCase(List.of("message: " + e.getMessage()));
        }
        if (lines) {
            String id = posted.header().apply("webhook-id");
            String body = new String(posted.body(), StandardCharsets.UTF_8);
            return events.takeLines(
                    known, sender.by(Channel.LINES), read, signed.isEmpty() && id != null ? id : signed, body);
        }
        boolean renamed = !signed.isEmpty() && !EventBody.namesItself(posted.type());
        return events.take(
                known,
                sender,
                renamed
                        ? read.stream()
                                .map(one -> one.named(signed, sender.name()))
                                .toList()
                        : read);
    }
}
