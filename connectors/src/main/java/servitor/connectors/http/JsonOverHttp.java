package servitor.connectors.http;

import java.io.IOException;
import java.io.InputStream;
import java.io.InterruptedIOException;
import java.net.UnknownHostException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import javax.net.ssl.SSLHandshakeException;
import org.apache.hc.client5.http.ConnectTimeoutException;
import org.apache.hc.client5.http.HttpHostConnectException;
import org.apache.hc.client5.http.classic.methods.HttpUriRequestBase;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.ContentType;
import org.apache.hc.core5.http.HttpEntity;
import org.apache.hc.core5.http.HttpHost;
import org.apache.hc.core5.http.io.entity.ByteArrayEntity;
import org.apache.hc.core5.util.Timeout;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Route;
import servitor.connectors.access.Trust;
import servitor.core.engine.Reply;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;

/**
 * Sends one request and reads one JSON answer. Follows no redirects, repeats nothing, reads a bounded number of bytes in a bounded
 * time, and tells apart what was provably never sent from what may have arrived. Whether an address may be talked to is decided
 * where its name is looked up, once. Safe for use by several threads.
 */
public final class JsonOverHttp {
    private static final int MOST_BYTES = 1_000_000;

    /** The same, taking the certificates that the machine takes. */
    public Reply send(HttpCall call, boolean inside) throws InterruptedException {
        return send(call, inside, Trust.MACHINE);
    }

    /** Sends {@code call}; {@code inside} is whether it may lead into a private network. */
    public Reply send(HttpCall call, boolean inside, Trust trust) throws InterruptedException {
        String where = call.url().getAuthority();
        HttpUriRequestBase request = request(call);
        Deadline.Cut cut = call.deadline().cut(request::cancel);
        try (cut;
                ClassicHttpResponse response =
                        RoutedHttp.client(inside, trust).executeOpen(HttpHost.create(call.url()), request, null)) {
            return read(where, call, response, cut);
        } catch (Route.LeadsInside e) {
            return new Reply.Refused(Problem.REFUSED, String.valueOf(e.getMessage()));
        } catch (UnknownHostException | HttpHostConnectException e) {
            return new Reply.NotSent(where + " can't be reached");
        } catch (ConnectTimeoutException e) {
            return new Reply.NotSent(where + " doesn't accept connections");
        } catch (SSLHandshakeException e) {
            return new Reply.NotSent(where + " doesn't show a certificate that holds for it");
        } catch (IOException | RuntimeException e) {
            return broken(where, e, cut.isDone());
        }
    }

    private static Reply broken(String where, Exception e, boolean late) throws InterruptedException {
        if (Thread.interrupted()) {
            throw new InterruptedException(where + " was given up");
        }
        boolean timedOut = late || e instanceof InterruptedIOException;
        return timedOut
                ? new Reply.Unknown(where + " didn't answer in time", true)
                : new Reply.Unknown("the connection to " + where + " broke: " + e.getMessage(), false);
    }

    private static HttpUriRequestBase request(HttpCall call) {
        HttpUriRequestBase request = new HttpUriRequestBase(call.method(), call.url());
        call.headers().forEach(request::setHeader);
        if (call.body() != null) {
            request.setEntity(new ByteArrayEntity(
                    call.body().bytes(), ContentType.parse(call.body().type())));
        }
        request.setConfig(org.apache.hc.client5.http.config.RequestConfig.custom()
                .setResponseTimeout(Timeout.ofMilliseconds(call.deadline().millis()))
                .setConnectionRequestTimeout(
                        Timeout.ofMilliseconds(call.deadline().millis()))
                .build());
        return request;
    }

    private static Reply read(String where, HttpCall call, ClassicHttpResponse response, Deadline.Cut cut) {
        int status = response.getCode();
        byte[] bytes;
        HttpEntity entity = response.getEntity();
        try (InputStream body = entity == null ? InputStream.nullInputStream() : entity.getContent()) {
            bytes = body.readNBytes(MOST_BYTES + 1);
            if (bytes.length > MOST_BYTES) {
                return new Reply.Unreadable(where + " answered with more than " + MOST_BYTES + " bytes");
            }
        } catch (IOException e) {
            return new Reply.Unknown(
                    where + " began to answer and didn't end: " + e.getMessage(),
                    cut.isDone() || e instanceof InterruptedIOException);
        }
        String type = String.valueOf(entity == null ? "" : entity.getContentType());
        String text = new String(bytes, charset(type));
        if (status < 200 || status > 299) {
            return new Reply.Failed(
                    status, where + " answered " + status + detail(type, text), RetryAfter.of(response));
        }
        if (call.text() && type.toLowerCase(Locale.ROOT).startsWith("text/")) {
            return new Reply.Answered(status, Json.object().put("text", text));
        }
        try {
            return new Reply.Answered(status, text.isBlank() ? Json.object() : Outside.read(text));
        } catch (MalformedJson e) {
            return new Reply.Unreadable(
                    where + " answered " + status + " with something that can't be taken as JSON: " + e.getMessage());
        }
    }

    private static Charset charset(String type) {
        try {
            ContentType parsed = ContentType.parseLenient(type);
            return parsed == null ? StandardCharsets.UTF_8 : parsed.getCharset(StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            return StandardCharsets.UTF_8; // one that nobody knows
        }
    }

    /** What an answer that isn't a success says of the reason, shortened. */
    private static String detail(String type, String text) {
        String reason = ErrorBody.reason(type, text);
        return reason.isEmpty() ? "" : ": " + reason;
    }
}
