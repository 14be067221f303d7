package kadrem.load.drive;

import java.math.BigInteger;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.cert.X509Certificate;
import java.security.spec.ECGenParameterSpec;
import java.time.Duration;
import java.time.Instant;
import java.util.Date;

import javax.net.ssl.SSLException;

import io.netty.handler.ssl.ApplicationProtocolConfig;
import io.netty.handler.ssl.ApplicationProtocolNames;
import io.netty.handler.ssl.SslContext;
import io.netty.handler.ssl.SslContextBuilder;
import io.netty.handler.ssl.SslProvider;
import kadrem.core.study.Wire;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.cert.jcajce.JcaX509CertificateConverter;
import org.bouncycastle.cert.jcajce.JcaX509v3CertificateBuilder;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.jcajce.JcaContentSignerBuilder;

/**
 * A certificate that signs itself, for a peer of Kadrem's own on loopback. Made anew each time; its key is kept
 * nowhere.
 */
final class PeerCertificate {
    private static final Duration DAY = Duration.ofDays(1);
    private static final X500Name NAME = new X500Name("CN=kadrem");

    private PeerCertificate() {
    }

    /** The server's side of TLS, which agrees on {@code protocol} by ALPN where that is HTTP/2. */
    static SslContext context(Wire.Protocol protocol) {
        try {
            KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
            generator.initialize(new ECGenParameterSpec("secp256r1"));
            KeyPair keys = generator.generateKeyPair();
            SslContextBuilder builder = SslContextBuilder.forServer(keys.getPrivate(), certificate(keys))
                    .sslProvider(SslProvider.JDK);
            if (protocol == Wire.Protocol.HTTP_2) {
                builder.applicationProtocolConfig(new ApplicationProtocolConfig(ApplicationProtocolConfig.Protocol.ALPN,
                        ApplicationProtocolConfig.SelectorFailureBehavior.NO_ADVERTISE,
                        ApplicationProtocolConfig.SelectedListenerFailureBehavior.ACCEPT,
                        ApplicationProtocolNames.HTTP_2));
            }
            return builder.build();
        } catch (GeneralSecurityException | OperatorCreationException | SSLException impossible) {
            throw new IllegalStateException("this Java makes no certificates", impossible);
        }
    }

    private static X509Certificate certificate(KeyPair keys)
            throws GeneralSecurityException, OperatorCreationException {
        Instant now = Instant.now();
        return new JcaX509CertificateConverter()
                .getCertificate(new JcaX509v3CertificateBuilder(NAME, BigInteger.valueOf(now.toEpochMilli()),
                        Date.from(now.minus(DAY)), Date.from(now.plus(DAY)), NAME, keys.getPublic())
                        .build(new JcaContentSignerBuilder("SHA256withECDSA").build(keys.getPrivate())));
    }
}
