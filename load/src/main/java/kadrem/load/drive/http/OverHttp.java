package kadrem.load.drive.http;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;

import kadrem.core.study.Address;
import kadrem.core.study.Candidate;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.content.UnusableCall;

/** A protocol that begins with HTTP at the same port, so that what a study says to ask beside the load can be asked there. */
public interface OverHttp extends ProtocolDriver {
    private static boolean asks(Questions questions) {
        return !questions.ready().isEmpty() && !questions.ready().equals(Candidate.USUAL_READY);
    }

    @Override
    default boolean sendsHeaders() {
        return true;
    }

    @Override
    default boolean heedsSignIn() {
        return true;
    }

    @Override
    default String probed(Address address, Questions questions) {
        return asks(questions)
                ? (address.secure() ? "https://" : "http://") + address.authority() + questions.ready()
                : ProtocolDriver.super.probed(address, questions);
    }

    /** By the path that the study names; else by a connection alone, since at the usual path there may be nothing. */
    @Override
    default String probe(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        return asks(questions)
                ? new HttpProtocol().probe(order, questions)
                : ProtocolDriver.super.probe(order, questions);
    }

    @Override
    default Map<String, String> fingerprint(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        if (!asks(questions) && questions.version().isEmpty()) {
            return Map.of();
        }
        var told = new LinkedHashMap<>(new HttpProtocol().fingerprint(order, questions));
        told.remove("protocol");
        return told;
    }
}
