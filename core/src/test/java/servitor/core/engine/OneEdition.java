package servitor.core.engine;

import java.util.Optional;
import servitor.core.handbook.Edition;

/** One edition in force, which every run is pinned to. */
record OneEdition(Edition edition) implements PublishedEditions {
    @Override
    public Edition get(int number) {
        return edition;
    }

    @Override
    public Optional<Edition> current() {
        return Optional.of(edition);
    }
}
