package kadrem.load.drive;

import java.io.File;
import java.io.IOException;
import java.nio.file.Path;
import java.security.GeneralSecurityException;

import javax.net.ssl.SSLException;

import io.netty.handler.ssl.ApplicationProtocolConfig;
import io.netty.handler.ssl.ApplicationProtocolNames;
import io.netty.handler.ssl.JdkSslContext;
import io.netty.handler.ssl.SslContextBuilder;
import io.netty.handler.ssl.SslProvider;
import io.netty.handler.ssl.util.InsecureTrustManagerFactory;
import kadrem.core.study.Tls;
import kadrem.core.study.Wire;

/** What TLS connections need, made from the study's files: TLS 1.2 and 1.3 of the JDK. */
public final class TlsContext {
    private final SslContextBuilder builder;
    private final JdkSslContext shared;
    private final boolean resumes;

    private TlsContext(SslContextBuilder builder, boolean resumes) throws SSLException {
        this.builder = builder;
        this.resumes = resumes;
        shared = (JdkSslContext) builder.build();
    }

    /**
     * The contexts for connections of {@code wire}.
     *
     * @param folder folder to which the files of {@code tls} are relative
     * @throws UnusableCall if a file is no certificate or key
     */
    public static TlsContext of(Tls tls, Wire wire, Path folder) throws UnusableCall {
        SslContextBuilder builder = SslContextBuilder.forClient().sslProvider(SslProvider.JDK).protocols("TLSv1.3",
                "TLSv1.2");
        try {
            if (!tls.verify()) {
                builder.trustManager(InsecureTrustManagerFactory.INSTANCE).endpointIdentificationAlgorithm(null);
            } else if (tls.authority().isPresent()) {
                builder.trustManager(DatedTrust.of(folder.resolve(tls.authority().get())));
            }
            if (tls.certificate().isPresent() && tls.key().isPresent()) {
                builder.keyManager(file(folder, tls.certificate().get()), file(folder, tls.key().get()));
            }
            if (wire.protocol() == Wire.Protocol.HTTP_2) {
                builder.applicationProtocolConfig(new ApplicationProtocolConfig(ApplicationProtocolConfig.Protocol.ALPN,
                        ApplicationProtocolConfig.SelectorFailureBehavior.NO_ADVERTISE,
                        ApplicationProtocolConfig.SelectedListenerFailureBehavior.ACCEPT,
                        ApplicationProtocolNames.HTTP_2));
            }
            return new TlsContext(builder, wire.resumption());
        } catch (IOException | GeneralSecurityException | IllegalArgumentException cause) {
            throw new UnusableCall("the TLS files cannot be used: " + cause.getMessage());
        }
    }

    private static File file(Path folder, String name) {
        return folder.resolve(name).toFile();
    }

    /** The context whose sessions later connections may resume. */
    public JdkSslContext shared() {
        return shared;
    }

    /** The context of a new connection: one of its own, which remembers no session, where sessions are not resumed. */
    public JdkSslContext forConnection() {
        if (resumes) {
            return shared;
        }
        try {
            return (JdkSslContext) builder.build();
        } catch (SSLException impossible) {
            throw new IllegalStateException("the same context was made before", impossible);
        }
    }
}
