package kadrem.load.drive;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.Workload;

/**
 * What a peer is to stand for.
 *
 * @param address of a candidate
 * @param access of that candidate
 * @param workload as it is asked there
 * @param answers what was answered in a rehearsal, by the names of calls; none where nothing is known
 */
public record PeerOrder(Address address, Access access, Workload workload, List<RehearsedCall> answers) {
    private static final Tls UNVERIFIED = new Tls(false, Optional.empty(), Optional.empty(), Optional.empty());

    public PeerOrder {
        answers = List.copyOf(answers);
    }

    /** The address of a peer that listens on a port. */
    Address at(int port) {
        return new Address(address.protocol(), address.scheme(), "127.0.0.1", port, address.basePath(),
                address.secure());
    }

    /** The access to a peer: the candidate's wire, nobody signs in, and the peer's certificate is not looked at. */
    Access accessToPeer(Map<String, List<String>> settings) {
        return new Access(new SignIn.None(), UNVERIFIED, access.wire().overPort(), settings);
    }
}
