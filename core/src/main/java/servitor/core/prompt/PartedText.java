package servitor.core.prompt;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import servitor.core.prompt.Prompt.Part;
import servitor.core.prompt.Prompt.Source;

/** A text as it is put together, which still knows where each part of it is from. */
final class PartedText {
    private final List<Part> parts = new ArrayList<>();

    /** Adds to it; what follows on text from the same source belongs to the same part. */
    PartedText add(Source from, String text) {
        Part last = parts.isEmpty() ? null : parts.get(parts.size() - 1);
        if (last != null && last.from() == from) {
            parts.set(parts.size() - 1, new Part(from, last.text() + text));
        } else if (!text.isEmpty()) {
            parts.add(new Part(from, text));
        }
        return this;
    }

    List<Part> parts() {
        return parts;
    }

    @Override
    public String toString() {
        return parts.stream().map(Part::text).collect(Collectors.joining());
    }
}
