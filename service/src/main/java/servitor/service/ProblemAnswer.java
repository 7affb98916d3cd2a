package servitor.service;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import servitor.core.json.Json;

/** Writes a problem answer (RFC 9457) where no controller has been reached yet. */
public final class ProblemAnswer {
    private ProblemAnswer() {}

    public static void write(HttpServletResponse response, int status, String title, String detail) throws IOException {
        response.setStatus(status);
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
