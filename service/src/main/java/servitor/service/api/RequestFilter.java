package servitor.service.api;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Set;
import java.util.UUID;
import org.slf4j.MDC;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpHeaders;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import servitor.service.ProblemAnswer;

/** Gives every request an id, and refuses bodies that are too large or don't say how large they are. */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class RequestFilter extends OncePerRequestFilter {
    static final String HEADER = "X-Request-Id";
    private static final long MOST_BYTES = 8_000_000;
    private static final Set<String> WITH_BODY = Set.of("POST", "PUT", "PATCH");

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        String id = UUID.randomUUID().toString().substring(0, 8);
        response.setHeader(HEADER, id);
        MDC.put("request", id);
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
        }
    }
}
