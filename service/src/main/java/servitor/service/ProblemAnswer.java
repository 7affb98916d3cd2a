package servitor.service;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.springframework.http.HttpStatus;
import servitor.core.json.Json;

/** Writes a problem answer (RFC 9457) where no controller has been reached yet. */
public final class ProblemAnswer {
    /** How to sign in (RFC 6750, section 3), which every 401 says (RFC 9110, section 15.5.2). */
    public static final String BEARER = "Bearer realm=\"servitor\"";

    private ProblemAnswer() {}

    /** The same for what is known by its status alone. */
    public static void write(HttpServletResponse response, int status) throws IOException {
        HttpStatus known = HttpStatus.resolve(status);
        write(
                response,
                status,
                known == null ? "Not answered" : known.getReasonPhrase(),
                status >= HttpServletResponse.SC_INTERNAL_SERVER_ERROR
                        ? "The request can't be answered. The service's log may say more."
                        : "The request can't be taken as HTTP allows it here: see its method, address, host and headers, "
                                + "which have up to 16 KB together.");
    }

    public static void write(HttpServletResponse response, int status, String title, String detail) throws IOException {
        response.setStatus(status);
        if (status == HttpServletResponse.SC_UNAUTHORIZED) {
            response.setHeader("WWW-Authenticate", BEARER);
        }
        response.setContentType("application/problem+json");
        response.setCharacterEncoding("UTF-8");
        response.getWriter()
                .write(Json.write(Json.object()
                        .put("type", "about:blank")
                        .put("title", title)
                        .put("status", status)
                        .put("detail", detail)));
    }
}
