package servitor.connectors.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.KeyStore;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;

/** A key with a certificate that is its own authority. */
public record Certified(Path store, String pem) {
    public static final String PASSWORD = "of-the-test";

    /** For a host as keytool writes it, such as {@code dns:localhost}. */
    public static Certified of(Path folder, String name, String host) throws Exception {
        Path store = folder.resolve(name + ".p12");
        keytool(
                store,
                "-genkeypair",
                "-keyalg",
                "EC",
                "-dname",
                "CN=" + name,
                "-ext",
                "san=" + host,
                "-ext",
                "bc:c=ca:true");
        return new Certified(store, keytool(store, "-exportcert", "-rfc"));
    }

    private static String keytool(Path store, String... arguments) throws Exception {
        java.util.List<String> line =
                new java.util.ArrayList<>(java.util.List.of(System.getProperty("java.home") + "/bin/keytool"));
        line.addAll(java.util.List.of(arguments));
        line.addAll(java.util.List.of(
                "-alias", "it", "-storetype", "PKCS12", "-storepass", PASSWORD, "-keystore", store.toString()));
        Process made = new ProcessBuilder(line)
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
        String said = new String(made.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(made.waitFor()).as(said).isZero();
        return said;
    }

    /** For a server that shows it. */
    public SSLContext server() throws Exception {
        KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        keys.init(KeyStore.getInstance(store.toFile(), PASSWORD.toCharArray()), PASSWORD.toCharArray());
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(keys.getKeyManagers(), null, null);
        return context;
    }
}
