package servitor.connectors.http;

import java.time.Duration;
import java.time.Instant;
import org.apache.hc.client5.http.utils.DateUtils;
import org.apache.hc.core5.http.Header;
import org.apache.hc.core5.http.HttpResponse;

/** After how long a system says that it may be asked again (RFC 9110, section 10.2.3). */
final class RetryAfter {
    private RetryAfter() {}

    /** Zero when it doesn't say, or says nothing that can be read. A time of day counts from the answer's own {@code Date}. */
    static Duration of(HttpResponse response) {
        String said = value(response, "Retry-After");
        if (said.matches("[0-9]{1,7}")) {
            return Duration.ofSeconds(Long.parseLong(said));
        }
        Instant until = DateUtils.parseStandardDate(said);
        Instant now = DateUtils.parseStandardDate(value(response, "Date"));
        return until == null || now == null || until.isBefore(now) ? Duration.ZERO : Duration.between(now, until);
    }

    private static String value(HttpResponse response, String name) {
        Header header = response.getFirstHeader(name);
        return header == null ? "" : header.getValue().strip();
    }
}
