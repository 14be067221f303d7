package kadrem.load.drive.http;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;

import kadrem.core.study.Call;
import kadrem.core.study.SecretReference;
import kadrem.core.study.SignIn;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;

/**
 * A candidate's sign-in with its secrets resolved.
 *
 * @param header name of the header that proves the sender; empty for none
 * @param fixed its value where that is the same for all calls
 * @param token where it comes from a token that is renewed
 * @param digest user and password where it answers a challenge
 */
public record Credentials(String header, Optional<byte[]> fixed, Optional<TokenSource> token, Optional<Pair> digest)
        implements AutoCloseable {
    private static final Credentials NONE = new Credentials("", Optional.empty(), Optional.empty(), Optional.empty());
    private static final String AUTHORIZATION = "Authorization";

    /** User and password. */
    record Pair(String user, String password) {
        Optional<DigestAnswer> answer(List<String> challenges, String clientNonce) {
            return DigestAnswer.to(challenges, user, password, clientNonce);
        }
    }

    /** @throws UnusableCall if a secret is missing or no token can be had */
    public static Credentials of(SignIn signIn, Secrets secrets) throws UnusableCall {
        return switch (signIn) {
            case SignIn.None() -> NONE;
            case SignIn.Basic(String user, String password) -> {
                String pair = user + ":" + resolve(password, secrets);
                String encoded = Base64.getEncoder().encodeToString(pair.getBytes(StandardCharsets.UTF_8));
                secrets.remember(encoded);
                yield fixed(AUTHORIZATION, "Basic " + encoded);
            }
            case SignIn.Bearer(String token) -> fixed(AUTHORIZATION, "Bearer " + resolve(token, secrets));
            case SignIn.Key(String header, String value) -> fixed(header, resolve(value, secrets));
            case SignIn.Digest(String user, String password) -> new Credentials(AUTHORIZATION, Optional.empty(),
                    Optional.empty(), Optional.of(new Pair(user, resolve(password, secrets))));
            case SignIn.ClientCredentials credentials -> new Credentials(AUTHORIZATION, Optional.empty(),
                    Optional.of(new TokenSource(credentials, resolve(credentials.secret(), secrets), secrets)),
                    Optional.empty());
        };
    }

    private static Credentials fixed(String header, String value) {
        return new Credentials(header, Optional.of(value.getBytes(StandardCharsets.UTF_8)), Optional.empty(),
                Optional.empty());
    }

    /** A template with its references replaced by the secrets. */
    private static String resolve(String template, Secrets secrets) throws UnusableCall {
        var text = new StringBuilder();
        List<String> parts = Call.split(template);
        for (int i = 0; i < parts.size(); i++) {
            text.append(i % 2 == 0 ? parts.get(i) : secrets.resolve(SecretReference.parse(parts.get(i))));
        }
        return text.toString();
    }

    /** The header's value at the moment it is asked for, where it does not depend on the request; empty otherwise. */
    public Optional<Supplier<byte[]>> value() {
        return fixed.<Supplier<byte[]>>map(bytes -> () -> bytes).or(() -> token.map(source -> source::authorization));
    }

    /** Called when a call was refused with status 401. */
    void refused() {
        token.ifPresent(TokenSource::renewSoon);
    }

    @Override
    public void close() {
        token.ifPresent(TokenSource::close);
    }
}
