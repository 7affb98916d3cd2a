package servitor.service.connections;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import javax.crypto.Cipher;
import javax.crypto.Mac;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * Encrypts what connections sign in with: AES-256 in Galois/Counter Mode (NIST SP 800-38D), bound to the connection's name, so
 * that a sealed text moved to another connection doesn't open. The keys are lines {@code id key} of a file of their own; the
 * last one seals, all of them open.
 */
public final class KeyRing {
    private static final String VERSION = "1";
    private static final int NONCE = 12;
    private static final int TAG_BITS = 128;

    private final Path file;
    private final SecureRandom random = new SecureRandom();

    /** A sealed text that no key of the file opens. */
    public static final class CannotOpen extends RuntimeException {
        CannotOpen(String message) {
            super(message);
        }

        CannotOpen(String message, Throwable cause) {
            super(message, cause);
        }
    }

    KeyRing(Path file) {
        this.file = file;
    }

    /** Encrypts {@code text} for the connection {@code name}, with the newest key; the first key is made when there is none. */
    synchronized String seal(String name, String text) {
        Map<String, byte[]> keys = read();
        if (keys.isEmpty()) {
            add(keys);
        }
        String id = newest(keys);
        byte[] nonce = new byte[NONCE];
        random.nextBytes(nonce);
        byte[] sealed = crypt(
                Cipher.ENCRYPT_MODE,
                Objects.requireNonNull(keys.get(id)),
                nonce,
                name,
                text.getBytes(StandardCharsets.UTF_8));
        Base64.Encoder base64 = Base64.getEncoder().withoutPadding();
        return String.join(":", VERSION, id, base64.encodeToString(nonce), base64.encodeToString(sealed));
    }

    /** Decrypts what was sealed for {@code name}; throws {@link CannotOpen} when its key is gone or it was tampered with. */
    synchronized String open(String name, String sealed) {
        String[] parts = sealed.split(":", 4);
        byte[] key = parts.length == 4 ? read().get(parts[1]) : null;
        if (key == null) {
            throw new CannotOpen("the key that ‘" + name + "’ was sealed with isn't in " + file);
        }
        Base64.Decoder base64 = Base64.getDecoder();
        return new String(
                crypt(Cipher.DECRYPT_MODE, key, base64.decode(parts[2]), name, base64.decode(parts[3])),
                StandardCharsets.UTF_8);
    }

    /** A signature of {@code text} by the newest key (HMAC-SHA256, RFC 2104), in base 64 for addresses. */
    synchronized String sign(String text) {
        Map<String, byte[]> keys = read();
        if (keys.isEmpty()) {
            add(keys);
        }
        return signature(Objects.requireNonNull(keys.get(newest(keys))), text);
    }

    /** Whether a key of the file made this signature of {@code text}. */
    synchronized boolean hasSigned(String text, String signature) {
        byte[] shown = signature.getBytes(StandardCharsets.UTF_8);
        boolean signed = false;
        for (byte[] key : read().values()) {
            signed |= MessageDigest.isEqual(signature(key, text).getBytes(StandardCharsets.UTF_8), shown);
        }
        return signed;
    }

    /** Whether a key of the file made a signature of {@code text} that begins so; the caller sees to it that it is long enough. */
    synchronized boolean hasSignedBeginning(String text, String beginning) {
        byte[] shown = beginning.getBytes(StandardCharsets.UTF_8);
        boolean signed = false;
        for (byte[] key : read().values()) {
            String whole = signature(key, text);
            byte[] own = whole.substring(0, Math.min(whole.length(), beginning.length()))
                    .getBytes(StandardCharsets.UTF_8);
            signed |= MessageDigest.isEqual(own, shown);
        }
        return signed;
    }

    /** Signs with a key made from that of the file, so that no key does two things. */
    private static String signature(byte[] key, String text) {
        byte[] own = hmac(key, "servitor signs");
        return Base64.getUrlEncoder().withoutPadding().encodeToString(hmac(own, text));
    }

    private static byte[] hmac(byte[] key, String text) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(key, "HmacSHA256"));
            return mac.doFinal(text.getBytes(StandardCharsets.UTF_8));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has HmacSHA256", e);
        }
    }

    /** Makes a new key, which seals from now on; the others still open. */
    synchronized void renew() {
        add(read());
    }

    /** Forgets all keys but the newest, once nothing is sealed with them any more. */
    synchronized void keepNewest() {
        Map<String, byte[]> keys = read();
        String newest = newest(keys);
        keys.keySet().removeIf(id -> !id.equals(newest));
        write(keys);
    }

    private static String newest(Map<String, byte[]> keys) {
        return keys.keySet().stream().reduce((first, second) -> second).orElseThrow();
    }

    private void add(Map<String, byte[]> keys) {
        byte[] id = new byte[4];
        byte[] key = new byte[32];
        random.nextBytes(id);
        random.nextBytes(key);
        keys.put(HexFormat.of().formatHex(id), key);
        write(keys);
    }

    private byte[] crypt(int mode, byte[] key, byte[] nonce, String name, byte[] text) {
        try {
            Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
            cipher.init(mode, new SecretKeySpec(key, "AES"), new GCMParameterSpec(TAG_BITS, nonce));
            cipher.updateAAD(name.getBytes(StandardCharsets.UTF_8));
            return cipher.doFinal(text);
        } catch (GeneralSecurityException e) {
            throw new CannotOpen("the credentials of ‘" + name + "’ don't open with their key", e);
        }
    }

    private Map<String, byte[]> read() {
        Map<String, byte[]> keys = new LinkedHashMap<>();
        try {
            if (Files.exists(file)) {
                for (String line : Files.readAllLines(file)) {
                    String[] parts = line.strip().split(" ");
                    if (parts.length == 2) {
                        keys.put(parts[0], Base64.getDecoder().decode(parts[1]));
                    }
                }
            }
            return keys;
        } catch (IOException e) {
            throw new UncheckedIOException("the key file " + file + " can't be read", e);
        }
    }

    /** Writes a new file and puts it in the old one's place, readable by its owner only. */
    private void write(Map<String, byte[]> keys) {
        StringBuilder lines = new StringBuilder();
        keys.forEach((id, key) -> lines.append(id)
                .append(' ')
                .append(Base64.getEncoder().encodeToString(key))
                .append('\n'));
        try {
            Path beside = file.resolveSibling(file.getFileName() + ".new");
            Files.deleteIfExists(beside);
            Files.createFile(
                    beside, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
            Files.writeString(beside, lines, StandardOpenOption.WRITE, StandardOpenOption.SYNC);
            Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        } catch (IOException e) {
            throw new UncheckedIOException("the key file " + file + " can't be written", e);
        }
    }
}
