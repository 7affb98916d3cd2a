package servitor.service.intake;

import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Proof;
import servitor.core.trail.TrailEvent;
import servitor.service.people.Person;

/**
 * Whom messages come from.
 *
 * @param name of the person or connection
 * @param person who brings them with a token; null for a system that signs them
 * @param proof how well it is known whom they name
 * @param channel the way they come
 */
record Sender(String name, @Nullable Person person, Proof proof, Channel channel) {
    /** A person of its own that a system has; what it says of others proves nothing. */
    static Sender of(Person person) {
        return new Sender(person.id(), person, Proof.CLAIMED, Channel.WEBHOOK);
    }

    /** A system that signs; it may be believed whom its messages name. */
    static Sender signing(String connection, boolean vouches) {
        return new Sender(connection, null, vouches ? Proof.VERIFIED : Proof.CLAIMED, Channel.WEBHOOK);
    }

    /** A schedule of the handbook; whom it names has asked for nothing. */
    static Sender ofSchedule() {
        return new Sender("schedule", null, Proof.CLAIMED, Channel.SCHEDULE);
    }

    /** The same, by another way. */
    Sender by(Channel another) {
        return new Sender(name, person, proof, another);
    }

    /** As the trail names it. */
    String actor(String intake) {
        return person == null ? TrailEvent.outside(intake) : TrailEvent.person(person.id());
    }
}
