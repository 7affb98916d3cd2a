package servitor.connectors.access;

import servitor.core.engine.Reply;
import servitor.core.handbook.Binding;
import tools.jackson.databind.node.ObjectNode;

/** Carries out tools of one protocol. Only the gate calls one. */
public interface Connector<B extends Binding> {
    /** The most characters of an answer that are taken. */
    int LONGEST_ANSWER = 1_000_000;

    /**
     * Makes one call.
     *
     * @param args inputs that already fit the tool's schema
     * @param key the same for every try of the same call
     * @param deadline when it has to be over, signing in included
     */
    Reply call(Access access, B binding, ObjectNode args, String key, Deadline deadline) throws InterruptedException;

    /** Reaches the system and signs in, changing nothing there. */
    Reply test(Access access, Deadline deadline) throws InterruptedException;
}
