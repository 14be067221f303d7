package kadrem.load.drive.resp;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.Call;
import kadrem.core.study.Wire;
import kadrem.load.content.ResponseCheck;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.CarrierDriver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.drive.Connector;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.LaneLoop;

/** The commands of a workload, compiled, for one store. */
final class RespDriver extends CarrierDriver {
    private final List<Commands> calls = new ArrayList<>();
    private final List<String[]> greeting;
    private final Optional<TlsContext> tls;
    private final ErrorWords words = new ErrorWords();

    RespDriver(DriverOrder order) throws UnusableCall {
        super(order);
        for (Call call : order.workload().calls()) {
            calls.add(Commands.of(call, order));
        }
        greeting = greeting(order);
        tls = order.address().secure()
                ? Optional.of(TlsContext.of(order.access().tls(), Wire.USUAL, order.secrets().folder()))
                : Optional.empty();
    }

    /** Signs in and chooses the database that the address names. */
    static List<String[]> greeting(DriverOrder order) throws UnusableCall {
        var greeting = new ArrayList<String[]>();
        String password = order.secrets().fill(order.access().setting("password"));
        String user = order.access().setting("user");
        if (!password.isEmpty()) {
            greeting.add(user.isEmpty() ? new String[]{"AUTH", password} : new String[]{"AUTH", user, password});
        }
        String database = order.address().basePath().replace("/", "");
        if (!database.isEmpty()) {
            greeting.add(new String[]{"SELECT", database});
        }
        return greeting;
    }

    @Override
    protected InspectableCarrier carrier(LaneLoop loop, Carrier.Listener listener, ResponseCheck[] checks) {
        return new RespCarrier(Connector.of(order(), loop, tls), greeting, calls, checks, listener,
                order().secrets(),
                words);
    }

    @Override
    public String statusWord(int status) {
        return words.word(status);
    }

    @Override
    public void close() {
        // carriers close their connections
    }
}
