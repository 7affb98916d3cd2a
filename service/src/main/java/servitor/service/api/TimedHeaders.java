package servitor.service.api;

import java.time.Duration;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import org.apache.coyote.Constants;
import org.apache.coyote.Processor;
import org.apache.coyote.Request;
import org.apache.coyote.http11.Http11NioProtocol;
import org.apache.tomcat.util.net.SocketWrapperBase;
import org.jspecify.annotations.Nullable;

/**
 * HTTP/1.1 where a header has a limit of time altogether, from its first byte to its last. The server's own limit is for each pause
 * between two bytes, so that a header which drips in would hold its connection for ever. Connections that are closed for it get no
 * answer: there is no request yet that could have one.
 */
public final class TimedHeaders extends Http11NioProtocol {
    private static final Duration LIMIT = Duration.ofSeconds(5);

    private final Duration limit;
    private @Nullable ScheduledFuture<?> watch;

    public TimedHeaders() {
        this(LIMIT);
    }

    TimedHeaders(Duration limit) {
        this.limit = limit;
    }

    @Override
    public void start() throws Exception {
        super.start();
        long often = limit.toMillis() / 5;
        watch = getUtilityExecutor().scheduleWithFixedDelay(this::closeWhatDrips, often, often, TimeUnit.MILLISECONDS);
    }

    @Override
    public void stop() throws Exception {
        if (watch != null) {
            watch.cancel(false);
        }
        super.stop();
    }

    private void closeWhatDrips() {
        for (SocketWrapperBase<?> connection : getEndpoint().getConnections()) {
            if (connection.getCurrentProcessor() instanceof Processor processor && drips(processor)) {
                connection.close();
            }
        }
    }

    /** Whether a header has begun and hasn't ended within the limit; a connection that rests between requests hasn't begun one. */
    private boolean drips(Processor processor) {
        Request request = processor.getRequest();
        int stage = request.getRequestProcessor().getStage();
        boolean begun = request.getStartTimeNanos() > 0;
        boolean served =
                stage != Constants.STAGE_PARSE && stage != Constants.STAGE_ENDED; // ended: for want of more bytes
        boolean answered = processor.isAsync() || request.getResponse().isCommitted();
        return begun && !served && !answered && System.nanoTime() - request.getStartTimeNanos() > limit.toNanos();
    }
}
