package kadrem.standins;

import java.io.IOException;
import java.net.BindException;
import java.util.List;

import kadrem.standins.berths.GrpcService;
import kadrem.standins.berths.LoopService;
import kadrem.standins.berths.SqlService;
import kadrem.standins.host.MadeUpHost;
import kadrem.standins.host.MetricsStandIn;
import kadrem.standins.host.SshStandIn;
import kadrem.standins.known.KnownCostService;
import kadrem.standins.troubled.TroubledService;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;

/** Starts one stand-in on a loopback port: {@code NAME --port N}. */
public final class Main {
    private static final String USAGE = """
            usage: kadrem standin NAME --port N
            names:
              pool     berth board: a bounded thread pool over an embedded SQL database
              virtual  berth board: a virtual thread for each request over the same SQL
              loop     berth board: an event loop with an in-memory cache and write-behind
              grpc     berth board: a gRPC service on as many threads over the same SQL
              leak, busy, lock, dependency
                       a berth board that loses memory, computes too much, waits for a lock, waits for another service
              known    answers /N/anything after N rounds of SHA-256, for differences of known size
              host     a made-up Linux host: SSH on the port, its metrics on the port after it""";

    private Main() {
    }

    /** It is known by a key that it makes anew at each start. */
    private static void host(int port) throws IOException, InterruptedException {
        var host = new MadeUpHost(System::nanoTime, System::currentTimeMillis);
        var keys = new SimpleGeneratorHostKeyProvider();
        keys.setAlgorithm("EC");
        try (SshStandIn ssh = SshStandIn.start(port, host, keys, List.of());
                MetricsStandIn metrics = MetricsStandIn.start(port + 1, host)) {
            System.out.println("ssh " + SshStandIn.USER + "@127.0.0.1:" + ssh.port() + " with the password \""
                    + SshStandIn.PASSWORD + "\"; metrics http://127.0.0.1:" + metrics.port() + "/metrics");
            Thread.currentThread().join();
        }
    }

    public static void main(String[] arguments) throws IOException, InterruptedException {
        if (arguments.length != 3 || !arguments[1].equals("--port") || !arguments[2].matches("\\d{1,5}")) {
            System.err.println(USAGE);
            System.exit(2);
        }
        int port = Integer.parseInt(arguments[2]);
        try {
            switch (arguments[0]) {
                case "pool" -> SqlService.onPool(port).serve();
                case "virtual" -> SqlService.onVirtualThreads(port).serve();
                case "loop" -> LoopService.on(port).serve();
                case "grpc" -> GrpcService.on(port).serve();
                case "leak", "busy", "lock", "dependency" -> {
                    TroubledService.start(arguments[0], port);
                    Thread.currentThread().join();
                }
                case "known" -> {
                    KnownCostService.start(port);
                    Thread.currentThread().join();
                }
                case "host" -> host(port);
                default -> {
                    System.err.println("there is no stand-in called " + arguments[0] + "\n" + USAGE);
                    System.exit(2);
                }
            }
        } catch (BindException cause) {
            System.err.println("port " + port + " on 127.0.0.1 cannot be used: " + cause.getMessage()
                    + "; end what listens there, or choose another port");
            System.exit(3);
        }
    }
}
