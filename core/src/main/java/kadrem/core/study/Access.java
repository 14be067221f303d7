package kadrem.core.study;

import java.util.List;
import java.util.Map;

/**
 * How a candidate is reached besides its address: the sign-in of calls, TLS where the address asks for it, and how calls
 * travel.
 *
 * @param settings what the candidate says about its protocol where that is not HTTP, by the name of the setting
 */
public record Access(SignIn signIn, Tls tls, Wire wire, Map<String, List<String>> settings) {
    /** No sign-in, usual TLS, usual wire. */
    public static final Access OPEN = new Access(new SignIn.None(), Tls.USUAL, Wire.USUAL);

    public Access {
        settings = Map.copyOf(settings);
    }

    /** Without settings of a protocol. */
    public Access(SignIn signIn, Tls tls, Wire wire) {
        this(signIn, tls, wire, Map.of());
    }

    /** No sign-in, usual TLS and wire. */
    public static Access with(Map<String, List<String>> settings) {
        return new Access(new SignIn.None(), Tls.USUAL, Wire.USUAL, settings);
    }

    /** The text of a setting; empty where it is not there. */
    public String setting(String name) {
        return String.join("\n", settings.getOrDefault(name, List.of()));
    }

    /** Calls that travel as usual. */
    public Access(SignIn signIn, Tls tls) {
        this(signIn, tls, Wire.USUAL);
    }

    /** No sign-in, usual TLS. */
    public static Access over(Wire wire) {
        return new Access(new SignIn.None(), Tls.USUAL, wire);
    }
}
