package servitor.standins;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.jspecify.annotations.Nullable;

/** Posts what a stand-in has to say to one address, in order, signed by the Standard Webhooks convention. */
final class Hooks {
    private static final int TRIES = 20;

    private final byte[] secret;
    private final HttpClient http =
            HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(2)).build();
    private volatile @Nullable URI to;
    private CompletableFuture<Void> last = CompletableFuture.completedFuture(null);

    /** {@code secret} is written {@code whsec_} and Base64. */
    Hooks(String secret) {
        this.secret = Base64.getDecoder().decode(secret.substring("whsec_".length()));
    }

    void to(URI address) {
        this.to = address;
    }

    /** Posts a text once all that was said before has gone; an address that doesn't answer is tried again for some seconds. */
    synchronized void say(String json) {
        URI address = to;
        if (address != null) {
            String id = "msg_" + UUID.randomUUID();
            last = last.thenRunAsync(() -> post(address, id, json, TRIES)).exceptionally(failure -> null);
        }
    }

    private void post(URI address, String id, String json, int tries) {
        String seconds = String.valueOf(Instant.now().getEpochSecond());
        HttpRequest request = HttpRequest.newBuilder(address)
                .timeout(Duration.ofSeconds(10))
                .header("Content-Type", "application/json")
                .header("webhook-id", id)
                .header("webhook-timestamp", seconds)
                .header("webhook-signature", "v1," + sign(id + "." + seconds + "." + json))
                .POST(BodyPublishers.ofString(json))
                .build();
        try {
            if (http.send(request, BodyHandlers.discarding()).statusCode() < 500 || tries == 0) {
                return;
            }
        } catch (java.io.IOException e) {
            if (tries == 0) {
                return;
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return;
        }
        CompletableFuture.runAsync(
                        () -> post(address, id, json, tries - 1),
                        CompletableFuture.delayedExecutor(500, TimeUnit.MILLISECONDS))
                .join();
    }

    private String sign(String signed) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(secret, "HmacSHA256"));
            return Base64.getEncoder().encodeToString(mac.doFinal(signed.getBytes(StandardCharsets.UTF_8)));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }
}
