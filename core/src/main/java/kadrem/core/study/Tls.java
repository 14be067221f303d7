package kadrem.core.study;

import java.util.Optional;

/**
 * How the certificate of an https address is looked at. Files are in PEM form, relative to the study folder.
 *
 * @param verify whether the server's certificate and name must be right
 * @param authority file with the certificates that are trusted besides the platform's
 * @param certificate file with the client's own certificate, and {@code key} with its private key
 */
public record Tls(boolean verify, Optional<String> authority, Optional<String> certificate, Optional<String> key) {
    /** The platform's trust, no certificate of the client's own. */
    public static final Tls USUAL = new Tls(true, Optional.empty(), Optional.empty(), Optional.empty());

    /** The words used on screens. */
    public String words() {
        return (verify ? "certificate checked" : "certificate not checked")
                + authority.map(file -> ", authority " + file).orElse("")
                + certificate.map(file -> ", own certificate " + file).orElse("");
    }
}
