package kadrem.core.study;

/** How a candidate is reached besides its address: the sign-in of calls, and TLS where the address is https. */
public record Access(SignIn signIn, Tls tls) {
    /** No sign-in, usual TLS. */
    public static final Access OPEN = new Access(new SignIn.None(), Tls.USUAL);
}
