package servitor.service.dispatch;

import java.time.Clock;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Access;
import servitor.connectors.access.Deadline;
import servitor.connectors.mail.MailFolder;
import servitor.connectors.mail.MailSubmission;
import servitor.connectors.mail.SubmissionAddress;
import servitor.connectors.webhook.Hook;
import servitor.core.engine.Reply;
import servitor.core.expression.EvaluationFailed;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Room;
import servitor.core.handbook.Telling;
import servitor.core.json.Json;
import servitor.core.mail.Letter;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.TracedValue;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.connections.Connections;
import servitor.service.connections.KeyRing;
import servitor.service.messages.CannotTell;
import servitor.service.messages.Letters;
import servitor.service.people.PeopleReader;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The part of the gate that tells people something. The note of what was told is written with the run's next state. */
@Component
class Teller {
    private final CaseStore cases;
    private final PeopleReader people;
    private final Letters letters;
    private final Connections connections;
    private final Clock clock;
    private final Hook hook = new Hook();

    Teller(CaseStore cases, PeopleReader people, Letters letters, Connections connections, Clock clock) {
        this.clock = clock;
        this.cases = cases;
        this.people = people;
        this.letters = letters;
        this.connections = connections;
    }

    /** Carries out a call of one of the {@link Telling} tools about a case. */
    Reply tell(Handbook handbook, String caseId, ProposedCall call, String key, Deadline deadline)
            throws InterruptedException {
        CaseRow row = cases.find(caseId).orElseThrow();
        String to = call.args().path("to").asString(Telling.REQUESTER);
        try {
            return switch (call.tool()) {
                case Telling.REPLY -> new Reply.Answered(200, Json.object());
                case Telling.NOTE -> note(row, to);
                case Telling.MAIL -> mail(handbook, row, to, call, key, deadline);
                case Telling.CHAT -> chat(handbook, row, to, call, key, deadline);
                case Telling.FIND_MAIL ->
                    find(handbook, row, call.args().path("key").asString(""));
                default -> new Reply.Refused(Problem.REFUSED, "nobody carries out ‘" + call.tool() + "’");
            };
        } catch (CannotTell e) {
            return new Reply.Refused(Problem.REFUSED, String.valueOf(e.getMessage()));
        } catch (KeyRing.CannotOpen e) {
            return new Reply.NotSent(String.valueOf(e.getMessage()));
        }
    }

    /** A note that nobody who is meant would see is told to nobody. */
    private Reply note(CaseRow row, String to) {
        boolean seen = people.meant(to).stream().anyMatch(person -> person.seesAsStaff(row));
        return seen
                ? new Reply.Answered(200, Json.object())
                : new Reply.Refused(
                        Problem.REFUSED, "nobody of ‘" + to + "’ sees cases of the desk ‘" + row.desk() + "’");
    }

    private Reply mail(Handbook handbook, CaseRow row, String to, ProposedCall call, String key, Deadline deadline)
            throws CannotTell {
        TracedValue text = call.input("text");
        String words = call.args().path("text").asString("");
        Letter letter = letters.about(handbook, row, to, words, text != null && text.written(), key);
        return send(handbook, row.desk(), letter, deadline);
    }

    private Reply chat(Handbook handbook, CaseRow row, String to, ProposedCall call, String key, Deadline deadline)
            throws CannotTell, InterruptedException {
        Room room = handbook.roomOf(to).orElseThrow(() -> new CannotTell("‘" + to + "’ has no room"));
        TracedValue text = call.input("text");
        String words = call.args().path("text").asString("");
        return post(room, letters.message(handbook, row, to, words, text != null && text.written()), key, deadline);
    }

    /** Writes a message ({@link Room#OF_MESSAGE}) into a room that the handbook names. */
    Reply inRoom(Handbook handbook, String name, ObjectNode message, String key, Deadline deadline) {
        try {
            Room room = handbook.rooms().get(name);
            return room == null
                    ? new Reply.NotSent("there is no room ‘" + name + "’")
                    : post(room, message, key, deadline);
        } catch (CannotTell | KeyRing.CannotOpen e) {
            return new Reply.NotSent(String.valueOf(e.getMessage()));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return new Reply.NotSent("the service is stopping");
        }
    }

    private Reply post(Room room, ObjectNode message, String key, Deadline deadline)
            throws CannotTell, InterruptedException {
        Optional<Access> access = connections.access(room.connection());
        if (access.isEmpty()) {
            return new Reply.NotSent("the connection ‘" + room.connection() + "’ isn't set up");
        }
        try {
            JsonNode body = room.filled(message, clock.instant().toString());
            return hook.send(access.get(), key, body, clock.instant(), deadline);
        } catch (EvaluationFailed e) {
            throw new CannotTell("what is sent to the room can't be filled: " + e.getMessage());
        }
    }

    /** Sends a mail by the connection of a desk. */
    Reply send(Handbook handbook, String desk, Letter letter, Deadline deadline) {
        String connection = connection(handbook, desk);
        Optional<Access> access = connections.access(connection);
        return access.isEmpty()
                ? new Reply.NotSent("the connection ‘" + connection + "’ isn't set up")
                : MailSubmission.send(access.get(), letter, deadline);
    }

    /** The connection that a desk's mails go out by; empty when it sends none. */
    static String connection(Handbook handbook, String desk) {
        return handbook.connectionOf(handbook.tool(Telling.MAIL), desk, "");
    }

    /** Whether the mail of a call lies among those that were sent. Where it doesn't, that says something only if the server files copies. */
    Reply find(Handbook handbook, CaseRow row, String key) throws CannotTell {
        String connection = connection(handbook, row.desk());
        Optional<SubmissionAddress> at =
                connections.access(connection).map(access -> SubmissionAddress.of(access.address()));
        Optional<Access> sent =
                at.map(SubmissionAddress::sent).filter(name -> !name.isEmpty()).flatMap(connections::access);
        if (sent.isEmpty()) {
            return new Reply.Refused(
                    Problem.UNAVAILABLE, "the connection ‘" + connection + "’ names no mailbox with what was sent");
        }
        try (MailFolder folder = MailFolder.open(sent.get(), at.get().sentFolder())) {
            boolean found = folder.holds(letters.messageId(handbook, row, key));
            return found || at.get().filesCopies()
                    ? new Reply.Answered(200, Json.object().put("found", found))
                    : new Reply.Refused(
                            Problem.NOT_FOUND,
                            "it isn't among what was sent, which proves nothing where the server files no copies");
        } catch (MailFolder.Trouble e) {
            return new Reply.NotSent(String.valueOf(e.getMessage()));
        }
    }
}
