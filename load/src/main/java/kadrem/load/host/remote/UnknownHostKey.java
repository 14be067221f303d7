package kadrem.load.host.remote;

import java.security.PublicKey;

/**
 * A host that nothing is known of, met for the first time: whether its key is the right one is a question for the user.
 *
 * @param fingerprint SHA-256 of the key, as ssh-keygen shows it
 */
public record UnknownHostKey(String host, int port, PublicKey key, String fingerprint) {
}
