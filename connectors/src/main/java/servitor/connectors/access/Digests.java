package servitor.connectors.access;

import java.security.GeneralSecurityException;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** Keyed digests. */
final class Digests {
    private Digests() {}

    /** The HMAC (RFC 2104) of all {@code parts} after one another, by an algorithm that every Java has. */
    static byte[] hmac(String algorithm, byte[] key, byte[]... parts) {
        try {
            Mac mac = Mac.getInstance(algorithm);
            mac.init(new SecretKeySpec(key, algorithm));
            for (byte[] part : parts) {
                mac.update(part);
            }
            return mac.doFinal();
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has " + algorithm, e);
        }
    }
}
