package kadrem.load.drive;

import java.io.File;
import java.nio.file.Path;

import javax.net.ssl.SSLException;

import io.netty.handler.ssl.JdkSslContext;
import io.netty.handler.ssl.SslContextBuilder;
import io.netty.handler.ssl.SslProvider;
import io.netty.handler.ssl.util.InsecureTrustManagerFactory;
import kadrem.core.study.Tls;

/** What a TLS connection needs, made once for a candidate: TLS 1.2 and 1.3 of the JDK. */
public final class TlsContext {
    private TlsContext() {
    }

    /**
     * The context for {@code tls}.
     *
     * @param folder folder to which its files are relative
     * @throws UnusableCall if a file is no certificate or key
     */
    public static JdkSslContext of(Tls tls, Path folder) throws UnusableCall {
        SslContextBuilder builder = SslContextBuilder.forClient().sslProvider(SslProvider.JDK).protocols("TLSv1.3",
                "TLSv1.2");
        try {
            if (!tls.verify()) {
                builder.trustManager(InsecureTrustManagerFactory.INSTANCE).endpointIdentificationAlgorithm(null);
            } else {
                tls.authority().map(file -> file(folder, file)).ifPresent(builder::trustManager);
            }
            if (tls.certificate().isPresent() && tls.key().isPresent()) {
                builder.keyManager(file(folder, tls.certificate().get()), file(folder, tls.key().get()));
            }
            return (JdkSslContext) builder.build();
        } catch (SSLException | IllegalArgumentException cause) {
            throw new UnusableCall("the TLS files cannot be used: " + cause.getMessage());
        }
    }

    private static File file(Path folder, String name) {
        return folder.resolve(name).toFile();
    }
}
