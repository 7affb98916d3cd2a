package servitor.service.messages;

import java.io.Serial;

/** Somebody can't be told something; the message says why. */
public final class CannotTell extends Exception {
    @Serial
    private static final long serialVersionUID = 1L;

    public CannotTell(String why) {
        super(why);
    }
}
