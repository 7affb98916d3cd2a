package servitor.core.handbook;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** How the constants of a closed vocabulary are written in files, on the trail and in the API: {@code HAND_OVER} is {@code hand-over}. */
public final class Words {
    private Words() {}

    /** The word of one constant. */
    public static String of(Enum<?> constant) {
        return constant.name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** All words of a vocabulary, in its order. */
    public static <E extends Enum<E>> List<String> all(Class<E> vocabulary) {
        return Arrays.stream(vocabulary.getEnumConstants()).map(Words::of).toList();
    }

    /** The constant that is written {@code word}; empty when there is none. */
    public static <E extends Enum<E>> Optional<E> find(Class<E> vocabulary, String word) {
        return Arrays.stream(vocabulary.getEnumConstants())
                .filter(constant -> of(constant).equals(word))
                .findFirst();
    }
}
