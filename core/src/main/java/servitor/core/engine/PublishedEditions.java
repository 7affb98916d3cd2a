package servitor.core.engine;

import java.util.Optional;
import servitor.core.handbook.Edition;

/** The editions runs are pinned to. */
public interface PublishedEditions {
    /** A published edition by its number. */
    Edition get(int number);

    /** The edition that new runs start on; empty before the first is published. */
    Optional<Edition> current();
}
