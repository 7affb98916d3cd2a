package servitor.demo;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** The service as a process of its own, which can be stopped kindly or killed. */
public final class ServiceProcess implements AutoCloseable {
    private final Process process;
    private final URI url;
    private final Path log;

    private ServiceProcess(Process process, URI url, Path log) {
        this.process = process;
        this.url = url;
        this.log = log;
    }

    /** Starts the service on {@code port} with its data in {@code data}; returns at once. */
    public static ServiceProcess start(int port, Path data, List<String> jvmOptions) throws IOException {
        return start(Java.ofThisProcess(), port, data, jvmOptions);
    }

    static ServiceProcess start(Java java, int port, Path data, List<String> jvmOptions) throws IOException {
        Files.createDirectories(data);
        Path log = data.resolve("service.log");
        List<String> options = new ArrayList<>(jvmOptions);
        options.addAll(List.of(
                "-Dservitor.data=" + data, "-Dserver.port=" + port, "-Dservitor.follow-under=" + data.resolve("logs")));
        Process process = java.process(options, "servitor.service.ServitorApplication")
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(log.toFile()))
                .start();
        return new ServiceProcess(process, URI.create("http://127.0.0.1:" + port), log);
    }

    public URI url() {
        return url;
    }

    /** Waits until the service answers; throws when it ends instead or takes longer than {@code limit}. */
    public void awaitReady(Duration limit) throws InterruptedException {
        HttpClient http = HttpClient.newHttpClient();
        HttpRequest request = HttpRequest.newBuilder(url.resolve("/api/manage/health"))
                .timeout(Duration.ofSeconds(5))
                .build();
        long until = System.nanoTime() + limit.toNanos();
        while (System.nanoTime() < until) {
            if (!process.isAlive()) {
                throw new IllegalStateException("The service ended while starting; see " + log + ".");
            }
            try {
                if (http.send(request, HttpResponse.BodyHandlers.discarding()).statusCode() == 200) {
                    return;
                }
            } catch (IOException e) {
                // not listening yet
            }
            TimeUnit.MILLISECONDS.sleep(100);
        }
        throw new IllegalStateException("The service wasn't ready in " + limit.toSeconds() + " s; see " + log + ".");
    }

    /** Ends the process at once, as a power cut or the kernel would: nothing is flushed, nothing is said. */
    public void kill() throws InterruptedException {
        process.destroyForcibly().waitFor();
    }

    public int waitFor() throws InterruptedException {
        return process.waitFor();
    }

    /** Stops the service kindly. */
    @Override
    public void close() {
        process.destroy();
        try {
            if (!process.waitFor(30, TimeUnit.SECONDS)) {
                process.destroyForcibly();
            }
        } catch (InterruptedException e) {
            process.destroyForcibly();
            Thread.currentThread().interrupt();
        }
    }
}
