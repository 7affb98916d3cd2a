package servitor.service.api;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.core.io.ClassPathResource;
import org.springframework.core.io.Resource;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.HttpStatusCode;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.context.request.ServletWebRequest;
import org.springframework.web.context.request.WebRequest;
import org.springframework.web.servlet.mvc.method.annotation.ResponseEntityExceptionHandler;
import org.springframework.web.servlet.resource.NoResourceFoundException;
import servitor.core.engine.LostRace;
import servitor.core.engine.RunRefused;
import servitor.core.handbook.finding.Finding;
import servitor.service.Precondition;
import servitor.service.Unavailable;
import servitor.service.cases.InvalidCase;
import servitor.service.cases.NoSuchCase;
import servitor.service.cases.TooMany;
import servitor.service.editions.DraftConflict;
import servitor.service.editions.HandbookRefused;
import servitor.service.editions.NeedsALook;
import servitor.service.editions.NeedsConsent;
import servitor.service.people.NotAllowed;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DatabindException;

/** Every error as a problem answer (RFC 9457). What nobody foresaw is logged and told without its details. */
@RestControllerAdvice
class Problems extends ResponseEntityExceptionHandler {
    private static final Logger LOG = LoggerFactory.getLogger(Problems.class);

    /** Who comes with a browser to a place that isn't there gets the console, which says so; programs get a problem. */
    @Override
    protected @Nullable ResponseEntity<Object> handleNoResourceFoundException(
            NoResourceFoundException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        String path = ((ServletWebRequest) request).getRequest().getRequestURI();
        String accepts = String.valueOf(request.getHeader(HttpHeaders.ACCEPT));
        Resource console = new ClassPathResource("static/index.html");
        if (path.startsWith("/api") || !accepts.contains(MediaType.TEXT_HTML_VALUE) || !console.exists()) {
            return super.handleNoResourceFoundException(e, headers, status, request);
        }
        return ResponseEntity.status(status).contentType(MediaType.TEXT_HTML).body(console);
    }

    @ExceptionHandler
    ProblemDetail noSuchCase(NoSuchCase e) {
        return problem(HttpStatus.NOT_FOUND, "No such case", String.valueOf(e.getMessage()));
    }

    @ExceptionHandler
    ProblemDetail notFound(NotFound e) {
        return problem(HttpStatus.NOT_FOUND, "Not found", String.valueOf(e.getMessage()));
    }

    @ExceptionHandler
    ProblemDetail notAllowed(NotAllowed e) {
        return problem(HttpStatus.FORBIDDEN, "Not allowed", String.valueOf(e.getMessage()));
    }

    @ExceptionHandler
    ProblemDetail invalidCase(InvalidCase e) {
        ProblemDetail problem = problem(
                HttpStatus.UNPROCESSABLE_CONTENT, "This can't be taken as it is", String.valueOf(e.getMessage()));
        problem.setProperties(Map.of("errors", e.wrong()));
        return problem;
    }

    @ExceptionHandler
    ProblemDetail invalid(IllegalArgumentException e) {
        return problem(
                HttpStatus.UNPROCESSABLE_CONTENT, "This can't be taken as it is", String.valueOf(e.getMessage()));
    }

    @ExceptionHandler
    ProblemDetail handbook(HandbookRefused e) {
        return withFindings(
                problem(HttpStatus.UNPROCESSABLE_CONTENT, e.title(), String.valueOf(e.getMessage())), e.findings());
    }

    @ExceptionHandler
    ProblemDetail look(NeedsALook e) {
        ProblemDetail problem = problem(HttpStatus.CONFLICT, "Look before you publish", String.valueOf(e.getMessage()));
        Map<String, Object> more = new LinkedHashMap<>();
        more.put("current", e.current());
        more.put("base", e.base());
        more.put("takenOut", e.takenOut());
        more.put("writtenOver", e.writtenOver());
        problem.setProperties(more);
        return problem;
    }

    @ExceptionHandler
    ProblemDetail consent(NeedsConsent e) {
        return problem(HttpStatus.FORBIDDEN, "Others have to agree", String.valueOf(e.getMessage()));
    }

    @ExceptionHandler
    ProblemDetail draft(DraftConflict e) {
        ProblemDetail problem = problem(HttpStatus.CONFLICT, "Published meanwhile", String.valueOf(e.getMessage()));
        problem.setProperties(Map.of("errors", e.files()));
        return problem;
    }

    @ExceptionHandler
    ProblemDetail run(RunRefused e) {
        return problem(HttpStatus.CONFLICT, "The run can't do that", String.valueOf(e.getMessage()));
    }

    @ExceptionHandler
    ResponseEntity<ProblemDetail> unavailable(Unavailable e) {
        return ResponseEntity.status(HttpStatus.SERVICE_UNAVAILABLE)
                .header(HttpHeaders.RETRY_AFTER, "5")
                .body(problem(HttpStatus.SERVICE_UNAVAILABLE, "Not now", String.valueOf(e.getMessage())));
    }

    @ExceptionHandler
    ProblemDetail tooMany(TooMany e) {
        return problem(HttpStatus.TOO_MANY_REQUESTS, "Too many", String.valueOf(e.getMessage()));
    }

    @ExceptionHandler
    ProblemDetail lostRace(LostRace e) {
        return problem(
                HttpStatus.CONFLICT,
                "Somebody else was faster",
                e.getMessage() + ". Nothing of yours was kept; look again, then repeat it.");
    }

    /** RFC 9110, section 15.5.13. */
    @ExceptionHandler
    ResponseEntity<ProblemDetail> precondition(Precondition.Failed e) {
        var answer = ResponseEntity.status(HttpStatus.PRECONDITION_FAILED);
        e.tag().ifPresent(answer::eTag);
        return answer.body(
                problem(HttpStatus.PRECONDITION_FAILED, "It isn't as you saw it", String.valueOf(e.getMessage())));
    }

    @ExceptionHandler
    ProblemDetail conflict(Conflict e) {
        return problem(HttpStatus.CONFLICT, e.title(), String.valueOf(e.getMessage()));
    }

    @ExceptionHandler
    ProblemDetail unforeseen(RuntimeException e) {
        LOG.error("A request failed in a way nobody foresaw.", e);
        return problem(
                HttpStatus.INTERNAL_SERVER_ERROR,
                "Something went wrong here",
                "Nothing of this request was kept. The service's log has more under this answer's X-Request-Id.");
    }

    @Override
    protected ResponseEntity<Object> handleHttpMessageNotReadable(
            HttpMessageNotReadableException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        Throwable cause = e.getMostSpecificCause();
        String detail = "The body can't be read.";
        if (cause instanceof DatabindException databind) {
            String path = databind.getPath().stream()
                    .map(part -> part.getPropertyName() == null ? "[" + part.getIndex() + "]" : part.getPropertyName())
                    .reduce((a, b) -> a + "." + b)
                    .orElse("");
            detail = (path.isEmpty() ? "The body" : "‘" + path + "’") + " doesn't fit: "
                    + firstLine(databind.getOriginalMessage());
        } else if (cause instanceof JacksonException json) {
            detail = "The body isn't JSON: " + firstLine(json.getOriginalMessage()) + " at line "
                    + json.getLocation().getLineNr() + ", column "
                    + json.getLocation().getColumnNr() + ".";
        }
        return ResponseEntity.badRequest().body(problem(HttpStatus.BAD_REQUEST, "Malformed request", detail));
    }

    private static String firstLine(String message) {
        return message.lines().findFirst().orElse("").replaceAll("`?servitor\\.[\\w.$]+`?", "the expected form");
    }

    static ProblemDetail problem(HttpStatus status, String title, String detail) {
        ProblemDetail problem = ProblemDetail.forStatusAndDetail(status, detail);
        problem.setTitle(title);
        return problem;
    }

    private static ProblemDetail withFindings(ProblemDetail problem, List<Finding> findings) {
        problem.setProperties(Map.of("findings", findings));
        return problem;
    }
}
