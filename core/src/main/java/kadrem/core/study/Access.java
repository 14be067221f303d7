package kadrem.core.study;

/**
 * How a candidate is reached besides its address: the sign-in of calls, TLS where the address is https, and how calls
 * travel.
 */
public record Access(SignIn signIn, Tls tls, Wire wire) {
    /** No sign-in, usual TLS, usual wire. */
    public static final Access OPEN = new Access(new SignIn.None(), Tls.USUAL, Wire.USUAL);

    /** Calls that travel as usual. */
    public Access(SignIn signIn, Tls tls) {
        this(signIn, tls, Wire.USUAL);
    }

    /** No sign-in, usual TLS. */
    public static Access over(Wire wire) {
        return new Access(new SignIn.None(), Tls.USUAL, wire);
    }
}
