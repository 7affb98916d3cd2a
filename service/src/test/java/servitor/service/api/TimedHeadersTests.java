package servitor.service.api;

import static org.assertj.core.api.Assertions.assertThat;

import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.apache.catalina.Context;
import org.apache.catalina.connector.Connector;
import org.apache.catalina.startup.Tomcat;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Slow headers, slow bodies and resting connections, against the web server that carries the service. */
class TimedHeadersTests {
    private static final Duration LIMIT = Duration.ofMillis(400);
    private static final long PACE = 50;

    @TempDir
    private Path folder;

    private final Tomcat tomcat = new Tomcat();
    private final ScheduledExecutorService dripping = Executors.newSingleThreadScheduledExecutor();

    @BeforeEach
    void start() throws Exception {
        tomcat.setBaseDir(folder.toString());
        Connector connector = new Connector(new TimedHeaders(LIMIT));
        connector.setPort(0);
        connector.setProperty("address", "127.0.0.1");
        connector.setProperty("connectionTimeout", "20000");
        tomcat.setConnector(connector);
        Context context = tomcat.addContext("", folder.toString());
        Tomcat.addServlet(context, "echo", new HttpServlet() {
            @Override
            protected void doPost(HttpServletRequest request, HttpServletResponse response) throws IOException {
                request.getInputStream().transferTo(response.getOutputStream());
            }
        });
        context.addServletMappingDecoded("/", "echo");
        tomcat.start();
    }

    @AfterEach
    void stop() throws Exception {
        dripping.shutdownNow();
        tomcat.stop();
        tomcat.destroy();
    }

    private Socket connected() throws IOException {
        Socket socket = new Socket("127.0.0.1", tomcat.getConnector().getLocalPort());
        socket.setSoTimeout(15_000);
        return socket;
    }

    private static void send(Socket socket, String text) throws IOException {
        socket.getOutputStream().write(text.getBytes(StandardCharsets.US_ASCII));
        socket.getOutputStream().flush();
    }

    /** Sends a text byte by byte, without a pause that would be a long one. */
    private AtomicInteger drip(Socket socket, String text) {
        AtomicInteger sent = new AtomicInteger();
        dripping.scheduleAtFixedRate(
                () -> {
                    try {
                        int at = sent.get();
                        if (at < text.length()) {
                            send(socket, text.substring(at, at + 1));
                            sent.incrementAndGet();
                        }
                    } catch (IOException e) {
                        throw new IllegalStateException(e); // ends the dripping
                    }
                },
                0,
                PACE,
                TimeUnit.MILLISECONDS);
        return sent;
    }

    private static String answer(Socket socket, String until) throws IOException {
        StringBuilder heard = new StringBuilder();
        while (heard.indexOf(until) < 0) {
            int read = socket.getInputStream().read();
            if (read < 0) {
                break;
            }
            heard.append((char) read);
        }
        return heard.toString();
    }

    @Test
    void aHeaderThatDripsIsClosed() throws Exception {
        try (Socket socket = connected()) {
            String endless = "POST / HTTP/1.1\r\nHost: x\r\nSlow: " + "x".repeat(1000);
            AtomicInteger sent = drip(socket, endless);

            assertThat(answer(socket, "never")).isEmpty();
            assertThat(sent.get()).isPositive().isLessThan(endless.length());
        }
    }

    @Test
    void theSecondHeaderOfAConnectionHasTheSameLimit() throws Exception {
        try (Socket socket = connected()) {
            send(socket, "POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 2\r\n\r\nok");
            assertThat(answer(socket, "ok")).startsWith("HTTP/1.1 200");
            drip(socket, "POST / HTTP/1.1\r\nHost: x\r\nSlow: " + "x".repeat(1000));

            assertThat(answer(socket, "never")).doesNotContain("HTTP/1.1");
        }
    }

    @Test
    void aSlowBodyIsNotAHeader() throws Exception {
        String body = "0123456789".repeat(2); // takes more than twice the limit
        try (Socket socket = connected()) {
            send(socket, "POST / HTTP/1.1\r\nHost: x\r\nContent-Length: " + body.length() + "\r\n\r\n");
            drip(socket, body);

            assertThat(answer(socket, body)).endsWith(body);
        }
    }

    @Test
    void aConnectionThatRestsIsLeftAlone() throws Exception {
        try (Socket rests = connected();
                Socket drips = connected()) {
            send(rests, "POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 2\r\n\r\nok");
            assertThat(answer(rests, "ok")).startsWith("HTTP/1.1 200");
            drip(drips, "POST / HTTP/1.1\r\nHost: x\r\nSlow: " + "x".repeat(1000));
            assertThat(answer(drips, "never")).as("by now the limit is over").isEmpty();

            send(rests, "POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 5\r\n\r\nstill");
            assertThat(answer(rests, "still")).endsWith("still");
        }
    }
}
