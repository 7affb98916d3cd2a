package servitor.service.intake;

import java.io.Serial;

/** A mail isn't taken in; the message says why. */
final class LeftOut extends Exception {
    @Serial
    private static final long serialVersionUID = 1L;

    LeftOut(String why) {
        super(why);
    }
}
