package servitor.service.people;

import com.nulabinc.zxcvbn.Strength;
import com.nulabinc.zxcvbn.Zxcvbn;
import java.util.List;
import java.util.Optional;

/** What a password must be: long enough, and not one that is soon guessed. */
final class Passwords {
    private static final int SHORTEST = 10;
    private static final int LONGEST = 200;
    /** On a scale of 0 to 4: safe against guessing over a network, with what is tried first left out. */
    private static final int STRONG = 3;

    private static final Zxcvbn GUESSES = new Zxcvbn();

    private Passwords() {}

    /**
     * Why a password isn't taken; empty when it is.
     *
     * @param about what others know of the person, which is guessed first
     */
    static Optional<String> fault(String password, List<String> about) {
        if (password.length() < SHORTEST) {
            return Optional.of("A password needs at least " + SHORTEST + " characters.");
        } else if (password.length() > LONGEST) {
            return Optional.of("A password may have at most " + LONGEST + " characters.");
        }
        Strength strength = GUESSES.measure(password, about);
        String why = strength.getFeedback().getWarning();
        return strength.getScore() >= STRONG
                ? Optional.empty()
                : Optional.of("This password is soon guessed" + (why == null || why.isEmpty() ? "" : ": " + why)
                        + ". Take several words that don't belong together.");
    }
}
