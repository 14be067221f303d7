package kadrem.load.drive;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;

import io.netty.pkitesting.CertificateBuilder;
import io.netty.pkitesting.X509Bundle;

/** Certificates that sign themselves, with their keys, as PEM files. */
public final class Certificate {
    private static final Duration DAY = Duration.ofDays(1);

    private Certificate() {
    }

    /** A certificate for 127.0.0.1 that is valid: cert.pem and key.pem in {@code folder}. */
    public static X509Bundle make(Path folder) throws Exception {
        return make(folder, board().addSanIpAddress("127.0.0.1"));
    }

    /** What {@code builder} says, as cert.pem and key.pem in {@code folder}. */
    public static X509Bundle make(Path folder, CertificateBuilder builder) throws Exception {
        X509Bundle made = builder.buildSelfSigned();
        Files.writeString(folder.resolve("cert.pem"), made.getCertificatePEM());
        Files.writeString(folder.resolve("key.pem"), made.getPrivateKeyPEM());
        return made;
    }

    /** A certificate of today and tomorrow for no name yet. */
    public static CertificateBuilder board() {
        return new CertificateBuilder().ecp256().subject("CN=board").setIsCertificateAuthority(true)
                .notBefore(Instant.now().minus(DAY))
                .notAfter(Instant.now().plus(DAY));
    }
}
