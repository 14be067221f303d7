package kadrem.standins.habits;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.List;
import java.util.concurrent.TimeUnit;

import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;

/** A certificate for 127.0.0.1 that signs itself, made by the key tool of this Java. */
final class Certificates {
    private static final String WORD = "berths";
    private static final int PATIENCE_SECONDS = 30;

    private final KeyManagerFactory keys;

    private Certificates(KeyManagerFactory keys) {
        this.keys = keys;
    }

    static Certificates make() throws IOException {
        Path folder = Files.createTempDirectory("berths");
        Path file = folder.resolve("keys.p12");
        try {
            Process made = new ProcessBuilder(List.of(
                    Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                    "-genkeypair", "-alias", WORD, "-keyalg", "EC", "-groupname", "secp256r1", "-dname", "CN=berths",
                    "-ext", "san=ip:127.0.0.1", "-validity", "2", "-storetype", "PKCS12", "-keystore", file.toString(),
                    "-storepass", WORD)).redirectErrorStream(true).redirectOutput(ProcessBuilder.Redirect.DISCARD)
                    .start();
            if (!made.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS) || made.exitValue() != 0) {
                made.destroyForcibly();
                throw new IOException("the key tool of this Java made no certificate");
            }
            KeyStore store = KeyStore.getInstance("PKCS12");
            try (InputStream in = Files.newInputStream(file)) {
                store.load(in, WORD.toCharArray());
            }
            KeyManagerFactory factory = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
            factory.init(store, WORD.toCharArray());
            return new Certificates(factory);
        } catch (GeneralSecurityException cause) {
            throw new IOException("the certificate cannot be used", cause);
        } catch (InterruptedException cause) {
            Thread.currentThread().interrupt();
            throw new IOException("stopped", cause);
        } finally {
            Files.deleteIfExists(file);
            Files.deleteIfExists(folder);
        }
    }

    /** A context of its own, which knows no session yet. */
    SSLContext context() throws IOException {
        try {
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(keys.getKeyManagers(), null, null);
            return context;
        } catch (GeneralSecurityException cause) {
            throw new IOException("this Java has no TLS", cause);
        }
    }
}
