package servitor.core.origin;

import java.text.Normalizer;
import java.util.Arrays;
import java.util.Locale;

/**
 * A text without what spelling adds: blanks, dashes, dots, commas, zero-width signs, letter case, wide forms (Unicode, NFKC). So a
 * value is found again however somebody has written it, and the place in the text is known.
 */
public final class Spelling {
    private final String text;
    private final StringBuilder plain = new StringBuilder();
    private int[] at;

    private Spelling(String text) {
        this.text = text;
        this.at = new int[text.length() + 8];
        for (int i = 0; i < text.length(); ) {
            int sign = text.codePointAt(i);
            int next = i + Character.charCount(sign);
            add(Normalizer.normalize(Character.toString(sign), Normalizer.Form.NFKC), i);
            i = next;
        }
    }

    private void add(String signs, int from) {
        signs.toLowerCase(Locale.ROOT)
                .codePoints()
                .filter(Character::isLetterOrDigit)
                .forEach(sign -> {
                    for (char one : Character.toChars(digit(sign))) {
                        if (plain.length() == at.length) {
                            at = Arrays.copyOf(at, at.length * 2);
                        }
                        at[plain.length()] = from;
                        plain.append(one);
                    }
                });
    }

    /** Digits of other scripts as those of this one. */
    private static int digit(int sign) {
        return Character.isDigit(sign) ? '0' + Character.digit(sign, 10) : sign;
    }

    /** The letters and digits of a text alone. */
    public static String plain(String text) {
        return new Spelling(text).plain.toString();
    }

    /** {@code text} with {@code instead} wherever {@code plain}, the letters and digits of a value, stands as a word of its own. */
    public static String replace(String text, String plain, String instead) {
        Spelling spelling = new Spelling(text);
        StringBuilder out = new StringBuilder();
        int done = 0;
        int found = spelling.plain.indexOf(plain);
        while (found >= 0 && !plain.isEmpty()) {
            int from = spelling.at[found];
            int to = spelling.end(found + plain.length() - 1);
            if (from >= done && spelling.standsAlone(from, to)) {
                out.append(text, done, from).append(instead);
                done = to;
                found = spelling.plain.indexOf(plain, found + plain.length());
            } else {
                found = spelling.plain.indexOf(plain, found + 1);
            }
        }
        return out.append(text, done, text.length()).toString();
    }

    private int end(int index) {
        return at[index] + Character.charCount(text.codePointAt(at[index]));
    }

    private boolean standsAlone(int from, int to) {
        return (from == 0 || !Character.isLetterOrDigit(text.codePointBefore(from)))
                && (to == text.length() || !Character.isLetterOrDigit(text.codePointAt(to)));
    }
}
