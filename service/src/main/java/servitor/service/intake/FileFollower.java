package servitor.service.intake;

import java.time.Duration;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import servitor.service.Rounds;

/** Looks at followed files again and again. */
@Component
class FileFollower implements SmartLifecycle {
    private static final Duration EACH = Duration.ofSeconds(1);

    private final Rounds rounds;

    FileFollower(FollowedFiles files) {
        this.rounds = new Rounds("files", EACH, files::look);
    }

    @Override
    public void start() {
        rounds.start();
    }

    @Override
    public void stop() {
        rounds.stop();
    }

    @Override
    public boolean isRunning() {
        return rounds.goOn();
    }
}
