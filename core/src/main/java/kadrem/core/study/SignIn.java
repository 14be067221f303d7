package kadrem.core.study;

import java.util.List;

/**
 * How calls prove who sends them. Passwords, tokens and keys are templates that hold references to secrets, never the
 * secrets themselves. A session by cookie is made by the workload's first part.
 */
public sealed interface SignIn {
    /** The words used on screens. */
    String words();

    /** Every template that must be a reference to a secret. */
    List<String> secrets();

    /** No proof. */
    record None() implements SignIn {
        @Override
        public String words() {
            return "none";
        }

        @Override
        public List<String> secrets() {
            return List.of();
        }
    }

    /** User and password with every call (RFC 7617). */
    record Basic(String user, String password) implements SignIn {
        @Override
        public String words() {
            return "Basic, as " + user;
        }

        @Override
        public List<String> secrets() {
            return List.of(password);
        }
    }

    /** Challenge and response (RFC 7616). */
    record Digest(String user, String password) implements SignIn {
        @Override
        public String words() {
            return "Digest, as " + user;
        }

        @Override
        public List<String> secrets() {
            return List.of(password);
        }
    }

    /** A token that is known (RFC 6750). */
    record Bearer(String token) implements SignIn {
        @Override
        public String words() {
            return "Bearer token";
        }

        @Override
        public List<String> secrets() {
            return List.of(token);
        }
    }

    /**
     * A token that is fetched with client credentials and renewed before it expires (RFC 6749, section 4.4).
     *
     * @param tokenAddress absolute address of the token endpoint
     * @param scope empty for none
     */
    record ClientCredentials(String tokenAddress, String client, String secret, String scope) implements SignIn {
        @Override
        public String words() {
            return "OAuth 2.0 client credentials, as " + client;
        }

        @Override
        public List<String> secrets() {
            return List.of(secret);
        }
    }

    /** A key in a header of its own. */
    record Key(String header, String value) implements SignIn {
        @Override
        public String words() {
            return "key in the header " + header;
        }

        @Override
        public List<String> secrets() {
            return List.of(value);
        }
    }
}
