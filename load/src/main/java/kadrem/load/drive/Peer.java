package kadrem.load.drive;

import kadrem.core.study.Access;
import kadrem.core.study.Address;

/**
 * Something of Kadrem's own on loopback that answers calls at once, so that the generator can be made quick and what it can do be found
 * out without a call to a candidate.
 */
public interface Peer extends AutoCloseable {
    /** Where it is to be asked. */
    Address address();

    /** How it is to be asked: over the wire of a candidate, without its sign-in. */
    Access access();

    @Override
    void close();
}
