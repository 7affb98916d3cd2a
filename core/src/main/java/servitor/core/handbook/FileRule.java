package servitor.core.handbook;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;

/**
 * What whoever asks may attach to a case.
 *
 * @param most how many files
 * @param megabytes how large each may be, in units of 1,000,000 bytes
 * @param types media types, such as {@code application/pdf} or {@code image/*}; empty for any
 */
public record FileRule(int most, int megabytes, Set<String> types) {
    /** What is so where a kind doesn't say. */
    public static final FileRule USUAL = new FileRule(20, 1, Set.of());
    /** The largest file that any kind takes. */
    public static final int MOST_MEGABYTES = 5;

    /** What the people of a desk may attach. */
    public static final FileRule ANY = new FileRule(200, MOST_MEGABYTES, Set.of());

    private static final int MEGABYTE = 1_000_000;

    public FileRule {
        types = Set.copyOf(types);
    }

    /** The most bytes of one file. */
    public int bytes() {
        return megabytes * MEGABYTE;
    }

    /** The rule in words. */
    public String words() {
        return "at most " + most + ", each up to " + megabytes + " MB"
                + (types.isEmpty() ? "" : ", of the types " + String.join(", ", new TreeSet<>(types)));
    }

    /**
     * What keeps a file from being attached, in words for whoever asks; empty when nothing does.
     *
     * @param there how many they have attached already
     */
    public List<String> faults(String type, int size, int there) {
        List<String> faults = new ArrayList<>();
        if (there >= most) {
            faults.add("number: at most " + most + (most == 1 ? " file" : " files") + " can be attached here");
        }
        if (size == 0 || size > bytes()) {
            faults.add("content: a file has from 1 to " + bytes() + " bytes here, this has " + size);
        }
        if (!types.isEmpty() && types.stream().noneMatch(one -> fits(one, type))) {
            faults.add("type: this is " + type + ", and here it is " + String.join(", ", new TreeSet<>(types)));
        }
        return faults;
    }

    private static boolean fits(String pattern, String type) {
        String given = type.toLowerCase(Locale.ROOT);
        return pattern.endsWith("/*")
                ? given.startsWith(pattern.substring(0, pattern.length() - 1))
                : given.equals(pattern);
    }
}
