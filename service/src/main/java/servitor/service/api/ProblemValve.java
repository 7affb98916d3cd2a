package servitor.service.api;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.valves.ErrorReportValve;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import servitor.service.ProblemAnswer;

/** What the web server answers by itself, before any code of this service has seen the request, is a problem answer as well. */
public final class ProblemValve extends ErrorReportValve {
    private static final Logger LOG = LoggerFactory.getLogger(ProblemValve.class);

    /** Made by the web server, by its name. */
    public ProblemValve() {}

    @Override
    protected void report(Request request, Response response, @Nullable Throwable throwable) {
        boolean answered = response.getContentWritten() > 0 || !response.setErrorReported();
        if (response.getStatus() < HttpServletResponse.SC_BAD_REQUEST || answered) {
            return;
        }
        try {
            ProblemAnswer.write(response, response.getStatus());
            response.finishResponse();
        } catch (IOException | IllegalStateException e) {
            LOG.debug("A problem couldn't be told to whoever asked", e);
        }
    }
}
