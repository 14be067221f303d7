package kadrem.load.drive.kafka;

import java.security.KeyStore;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLParameters;

import org.apache.kafka.common.security.auth.SslEngineFactory;
import org.jspecify.annotations.Nullable;

/** Gives Kafka's clients the TLS that the study says; they make an object of this class from its name. */
public final class StudyTls implements SslEngineFactory {
    /** Setting under which the {@link SSLContext} is handed over. */
    static final String CONTEXT = "kadrem.tls.context";
    /** Setting that says whether the server's name must be that of its certificate. */
    static final String VERIFIES = "kadrem.tls.verifies";

    private @Nullable SSLContext context;
    private boolean verifies = true;

    @Override
    public void configure(Map<String, ?> settings) {
        context = (SSLContext) settings.get(CONTEXT);
        verifies = !Boolean.FALSE.equals(settings.get(VERIFIES));
    }

    @Override
    public SSLEngine createClientSslEngine(String host, int port, String endpointIdentification) {
        SSLEngine engine = Objects.requireNonNull(context).createSSLEngine(host, port);
        engine.setUseClientMode(true);
        SSLParameters parameters = engine.getSSLParameters();
        parameters.setEndpointIdentificationAlgorithm(verifies ? "HTTPS" : "");
        engine.setSSLParameters(parameters);
        return engine;
    }

    @Override
    public SSLEngine createServerSslEngine(String host, int port) {
        throw new UnsupportedOperationException("a client has no server's end");
    }

    @Override
    public boolean shouldBeRebuilt(Map<String, Object> settings) {
        return false;
    }

    @Override
    public Set<String> reconfigurableConfigs() {
        return Set.of();
    }

    @Override
    public @Nullable KeyStore keystore() {
        return null;
    }

    @Override
    public @Nullable KeyStore truststore() {
        return null;
    }

    @Override
    public void close() {
        // nothing is held open
    }
}
