package servitor.service.people;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import servitor.service.ProblemAnswer;

/**
 * Keeps some from taking what all need: nobody has more than a few requests in hand at once, those who haven't signed in have few
 * together, and a body that drips in is given up. So there is always somebody free for the others.
 */
@Component
class CrowdFilter extends OncePerRequestFilter {
    /** Of the threads that answer requests, those who haven't signed in get at most so many together. */
    private static final int STRANGERS = 24;

    private static final int EACH = 16;
    private static final Duration BODY = Duration.ofSeconds(15);
    private static final String NOBODY = "";

    private final Map<String, Integer> inHand = new ConcurrentHashMap<>();

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        String who = SecurityContextHolder.getContext().getAuthentication() instanceof SignedIn signedIn
                ? signedIn.getPrincipal()
                : NOBODY;
        int most = who.equals(NOBODY) ? STRANGERS : EACH;
        int now = inHand.merge(who, 1, Integer::sum);
        try {
            if (now > most) {
                response.setHeader("Retry-After", "1");
                ProblemAnswer.write(
                        response,
                        429,
                        "Too many at once",
                        "Too many requests are under way at the same time. Nothing was changed; try again in a moment.");
            } else {
                chain.doFilter(new Timely(request), response);
            }
        } catch (TooSlow e) {
            ProblemAnswer.write(
                    response, 408, "Too slow", "The body didn't arrive within " + BODY.toSeconds() + " seconds.");
        } finally {
            inHand.compute(who, (key, count) -> count == null || count <= 1 ? null : count - 1);
        }
    }

    /** The body didn't arrive in time. */
    private static final class TooSlow extends IOException {
        private static final long serialVersionUID = 1L;

        TooSlow() {
            super("the body didn't arrive in time");
        }
    }

    /** A request whose whole body has to arrive in a limited time, however it is cut into pieces. */
    private static final class Timely extends HttpServletRequestWrapper {
        private final long until = System.nanoTime() + BODY.toNanos();

        Timely(HttpServletRequest request) {
            super(request);
        }

        @Override
        public ServletInputStream getInputStream() throws IOException {
            return new TimelyBody(super.getInputStream(), until);
        }

        @Override
        public BufferedReader getReader() throws IOException {
            return new BufferedReader(new InputStreamReader(getInputStream(), StandardCharsets.UTF_8));
        }
    }

    private static final class TimelyBody extends ServletInputStream {
        private final ServletInputStream body;
        private final long until;

        TimelyBody(ServletInputStream body, long until) {
            this.body = body;
            this.until = until;
        }

        private int timely(int read) throws TooSlow {
            if (System.nanoTime() > until) {
                throw new TooSlow();
            }
            return read;
        }

        @Override
        public int read() throws IOException {
            return timely(body.read());
        }

        @Override
        public int read(byte[] into, int offset, int length) throws IOException {
            return timely(body.read(into, offset, length));
        }

        @Override
        public boolean isFinished() {
            return body.isFinished();
        }

        @Override
        public boolean isReady() {
            return body.isReady();
        }

        @Override
        public void setReadListener(ReadListener listener) {
            body.setReadListener(listener);
        }
    }
}
