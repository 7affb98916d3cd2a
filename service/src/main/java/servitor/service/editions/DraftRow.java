package servitor.service.editions;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** {@code base} is the digest of the text the change started from; a null text takes the file out. */
public record DraftRow(String person, String path, @Nullable String text, String base, Instant updated) {}
