package servitor.connectors.access;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.stream.Collectors;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;

/**
 * Whose certificates are taken over TLS: those that the authorities of {@code pem} signed, or, when it is empty, those of the
 * machine's. Whoever it is has to be the host that the address names, in either case.
 */
public record Trust(String pem) {
    /** The machine's own authorities. */
    public static final Trust MACHINE = new Trust("");

    private static final int LONGEST = 64_000;

    /** Throws {@link IllegalArgumentException} when it isn't a list of certificates of authorities in PEM (RFC 7468). */
    public static Trust of(String pem) {
        Trust trust = new Trust(pem.strip());
        if (trust.pem().length() > LONGEST) {
            throw new IllegalArgumentException("The authorities have more than " + LONGEST + " characters.");
        }
        for (X509Certificate one : trust.authorities()) {
            if (one.getBasicConstraints() < 0) {
                throw new IllegalArgumentException("‘" + one.getSubjectX500Principal()
                        + "’ is no authority: its certificate doesn't let it sign others.");
            }
        }
        return trust;
    }

    /** The authorities by their names; empty for the machine's. */
    public String names() {
        return authorities().stream()
                .map(one -> one.getSubjectX500Principal().getName())
                .collect(Collectors.joining("; "));
    }

    private List<X509Certificate> authorities() {
        try {
            return pem.isEmpty()
                    ? List.of()
                    : CertificateFactory.getInstance("X.509")
                            .generateCertificates(new ByteArrayInputStream(pem.getBytes(StandardCharsets.UTF_8)))
                            .stream()
                            .map(X509Certificate.class::cast)
                            .toList();
        } catch (CertificateException e) {
            throw new IllegalArgumentException(
                    "The authorities can't be read: give their certificates in PEM, each between BEGIN CERTIFICATE and END CERTIFICATE.",
                    e);
        }
    }

    /** What decides whom to take. */
    public TrustManager[] managers() throws GeneralSecurityException {
        TrustManagerFactory factory = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
        factory.init(pem.isEmpty() ? null : store());
        return factory.getTrustManagers();
    }

    private KeyStore store() throws GeneralSecurityException {
        try {
            KeyStore store = KeyStore.getInstance(KeyStore.getDefaultType());
            store.load(null, null);
            for (X509Certificate one : authorities()) {
                store.setCertificateEntry("authority " + store.size(), one);
            }
            return store;
        } catch (IOException e) {
            throw new GeneralSecurityException(e);
        }
    }

    /** For whoever speaks TLS by the Java machine's own means. */
    public SSLContext context() {
        try {
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, managers(), null);
            return context;
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("TLS isn't available", e);
        }
    }
}
