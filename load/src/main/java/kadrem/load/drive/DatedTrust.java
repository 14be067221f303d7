package kadrem.load.drive;

import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.util.Arrays;

import javax.net.ssl.SSLEngine;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509ExtendedTrustManager;

/**
 * Trusts what the JDK trusts for given authorities, and besides wants a server's own certificate to be valid today: path
 * validation (RFC 5280 section 6.1) does not ask that of a certificate which is itself the authority.
 */
final class DatedTrust extends X509ExtendedTrustManager {
    private final X509ExtendedTrustManager usual;

    private DatedTrust(X509ExtendedTrustManager usual) {
        this.usual = usual;
    }

    /** @param authorities PEM file of one certificate or more */
    static DatedTrust of(Path authorities) throws IOException, GeneralSecurityException {
        KeyStore store = KeyStore.getInstance(KeyStore.getDefaultType());
        store.load(null, null);
        try (InputStream in = Files.newInputStream(authorities)) {
            int number = 0;
            for (Certificate certificate : CertificateFactory.getInstance("X.509").generateCertificates(in)) {
                store.setCertificateEntry("authority-" + number++, certificate);
            }
            if (number == 0) {
                throw new CertificateException(authorities + " holds no certificate");
            }
        }
        var factory = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
        factory.init(store);
        return new DatedTrust(Arrays.stream(factory.getTrustManagers())
                .filter(X509ExtendedTrustManager.class::isInstance).map(X509ExtendedTrustManager.class::cast)
                .findFirst().orElseThrow());
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
            throws CertificateException {
        usual.checkServerTrusted(chain, type, engine);
        chain[0].checkValidity();
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket) throws CertificateException {
        usual.checkServerTrusted(chain, type, socket);
        chain[0].checkValidity();
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type) throws CertificateException {
        usual.checkServerTrusted(chain, type);
        chain[0].checkValidity();
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine)
            throws CertificateException {
        usual.checkClientTrusted(chain, type, engine);
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket) throws CertificateException {
        usual.checkClientTrusted(chain, type, socket);
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type) throws CertificateException {
        usual.checkClientTrusted(chain, type);
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
        return usual.getAcceptedIssuers();
    }
}
