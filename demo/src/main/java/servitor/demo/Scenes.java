package servitor.demo;

import java.io.IOException;
import java.util.concurrent.TimeUnit;

/** What scenes wait for. */
final class Scenes {
    private Scenes() {}

    /** Something that comes to be so. */
    interface Condition {
        boolean holds() throws IOException, InterruptedException;
    }

    static void await(Condition condition) throws IOException, InterruptedException {
        for (int tries = 0; tries < 300; tries++) {
            if (condition.holds()) {
                return;
            }
            TimeUnit.MILLISECONDS.sleep(100);
        }
        throw new IllegalStateException("it didn't come to that within half a minute");
    }
}
