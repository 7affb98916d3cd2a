package servitor.service.editions;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** Publishing would take files out, or write over what others have published; whoever does it looks at that first. */
public final class NeedsALook extends RuntimeException {
    private final int current;
    private final @Nullable Integer base;
    private final transient List<String> takenOut;
    private final transient List<String> writtenOver;

    NeedsALook(int current, @Nullable Integer base, List<String> takenOut, List<String> writtenOver) {
        super(why(current, base, takenOut));
        this.current = current;
        this.base = base;
        this.takenOut = List.copyOf(takenOut);
        this.writtenOver = List.copyOf(writtenOver);
    }

    private static String why(int current, @Nullable Integer base, List<String> takenOut) {
        String from = base == null
                ? "Nobody knows which edition these files were made from; edition " + current + " is in force."
                : base == current
                        ? "These files were made from edition " + current + ", which is in force."
                        : "These files were made from edition " + base + ", and edition " + current + " is in force.";
        String out = takenOut.isEmpty()
                ? ""
                : " " + takenOut.size() + (takenOut.size() == 1 ? " file" : " files") + " would be taken out.";
        return from + out + " Nothing was published.";
    }

    public int current() {
        return current;
    }

    public @Nullable Integer base() {
        return base;
    }

    public List<String> takenOut() {
        return takenOut;
    }

    public List<String> writtenOver() {
        return writtenOver;
    }
}
