package servitor.service.intake;

import java.time.Duration;
import org.springframework.stereotype.Component;
import servitor.service.Recurring;
import servitor.service.Rounds;

/** Looks at followed files again and again. */
@Component
class FileFollower implements Recurring {
    private static final Duration EACH = Duration.ofSeconds(1);

    private final Rounds rounds;

    FileFollower(FollowedFiles files) {
        this.rounds = new Rounds("files", EACH, files::look);
    }

    @Override
    public Rounds rounds() {
        return rounds;
    }
}
