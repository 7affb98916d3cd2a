package servitor.core.engine;

import java.time.Duration;
import servitor.core.handbook.Problem;
import tools.jackson.databind.JsonNode;

/** What came of reaching an outside system. */
public sealed interface Reply {

    /** What is to be said of it; empty for an answer. */
    String detail();

    /** It answered, and this is the answer. */
    record Answered(int status, JsonNode body) implements Reply {
        @Override
        public String detail() {
            return "";
        }
    }

    /**
     * It answered that it can't or won't.
     *
     * @param again after how long it says that it may be asked again; zero when it doesn't say
     */
    record Failed(int status, String detail, Duration again) implements Reply {
        public Failed(int status, String detail) {
            this(status, detail, Duration.ZERO);
        }
    }

    /**
     * It answered that it can't or won't, in a way that pages can have a way for.
     *
     * @param problem the word of a {@link Problem}, or of one that the tool declares
     */
    record Refused(String problem, String detail) implements Reply {
        public Refused(Problem problem, String detail) {
            this(problem.word(), detail);
        }
    }

    /** Provably nothing was sent. */
    record NotSent(String detail) implements Reply {}

    /** Something was sent, and what came of it isn't known. */
    record Unknown(String detail, boolean timedOut) implements Reply {}

    /**
     * What came of a talk of several lines, with what was said on both sides.
     *
     * @param transcript without secrets
     */
    record WithTranscript(Reply reply, String transcript) implements Reply {
        @Override
        public String detail() {
            return reply.detail();
        }
    }

    /** It answered with something that can't be read: too long, too deep, or not what was agreed. */
    record Unreadable(String detail) implements Reply {}
}
