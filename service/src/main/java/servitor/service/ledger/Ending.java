package servitor.service.ledger;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Ends the process where going on could lose or double something. */
interface Ending {
    /** The exit code of a process that ended because it could write no more. */
    int CODE = 3;

    /** At once, with nothing said to anybody who waits: they look again once it is back. */
    Ending PROCESS = (why, cause) -> {
        Logger log = LoggerFactory.getLogger(Ending.class);
        try {
            log.error(why, cause);
        } finally {
            Runtime.getRuntime().halt(CODE);
        }
    };

    void end(String why, Throwable cause);
}
