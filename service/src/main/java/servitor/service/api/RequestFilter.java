package servitor.service.api;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Set;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.slf4j.MDC;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpHeaders;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import servitor.service.ProblemAnswer;

/**
 * Keeps every request's id and trace for the log, gives those an id that have none, and refuses bodies that are too large or don't
 * say how large they are.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class RequestFilter extends OncePerRequestFilter {
    static final String HEADER = "X-Request-Id";
    static final String TRACE = "traceparent";
    private static final Pattern ID = Pattern.compile("[A-Za-z0-9._-]{1,64}");
    private static final Pattern TRACE_PARENT = Pattern.compile(
            "(?!ff)[0-9a-f]{2}-((?!0{32})[0-9a-f]{32})-(?!0{16})[0-9a-f]{16}-[0-9a-f]{2}(?:-.{0,200})?");
    private static final long MOST_BYTES = 8_000_000;
    private static final Set<String> WITH_BODY = Set.of("POST", "PUT", "PATCH");

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        String id = id(request.getHeader(HEADER));
        response.setHeader(HEADER, id);
        MDC.put("request", id);
        MDC.put("trace", trace(request.getHeader(TRACE)));
        try {
            if (request.getContentLengthLong() > MOST_BYTES) {
                ProblemAnswer.write(
                        response,
                        413,
                        "Too large",
                        "A request may have at most " + MOST_BYTES + " bytes; this has "
                                + request.getContentLengthLong() + ".");
            } else if (request.getContentLengthLong() < 0
                    && WITH_BODY.contains(request.getMethod())
                    && request.getHeader(HttpHeaders.TRANSFER_ENCODING) != null) {
                ProblemAnswer.write(response, 411, "Length required", "Say the length of the body in Content-Length.");
            } else {
                chain.doFilter(request, response);
            }
        } finally {
            MDC.remove("request");
            MDC.remove("trace");
        }
    }

    /** Whoever asks may name the request; a name that could be mistaken for something else in the log isn't taken. */
    private static String id(@Nullable String given) {
        return given != null && ID.matcher(given).matches()
                ? given
                : UUID.randomUUID().toString().substring(0, 8);
    }

    /** The trace that the request is part of, by its id (W3C Trace Context, section 3.2); empty without one. */
    private static String trace(@Nullable String given) {
        Matcher parts = TRACE_PARENT.matcher(given == null ? "" : given);
        return parts.matches() ? parts.group(1) : "";
    }
}
