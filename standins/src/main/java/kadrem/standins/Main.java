package kadrem.standins;

import java.io.IOException;
import java.net.BindException;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

import kadrem.standins.berths.DatabaseService;
import kadrem.standins.berths.GaugeService;
import kadrem.standins.berths.GrpcService;
import kadrem.standins.berths.LiveService;
import kadrem.standins.berths.LoopService;
import kadrem.standins.berths.SqlService;
import kadrem.standins.berths.StoreService;
import kadrem.standins.broker.BrokerService;
import kadrem.standins.broker.ExchangeService;
import kadrem.standins.broker.JournalService;
import kadrem.standins.habits.Habit;
import kadrem.standins.habits.HabitService;
import kadrem.standins.host.MadeUpHost;
import kadrem.standins.host.MetricsStandIn;
import kadrem.standins.host.SshStandIn;
import kadrem.standins.known.KnownCostService;
import kadrem.standins.troubled.TroubledService;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;

/** Starts one stand-in on a loopback port: {@code NAME --port N}, with settings behind it where it has some. */
public final class Main {
    private static final String USAGE = """
            usage: kadrem standin NAME --port N [--set NAME=VALUE]...
            names:
              pool     berth board: a bounded thread pool over an embedded SQL database
              virtual  berth board: a virtual thread for each request over the same SQL
              loop     berth board: an event loop with an in-memory cache and write-behind
              grpc     berth board: a gRPC service on as many threads over the same SQL
              sql      the berths in an H2 database for JDBC; with settings of the database (--set WRITE_DELAY=0) in a file
              live     berth board over GraphQL (/graphql), WebSocket (/live) and server-sent events (/arrivals)
              store    the berths in a key-value store in memory, over RESP
              gauge    a tide gauge that is asked by lines of text, over TCP and UDP
              broker   a broker that speaks MQTT 3.1.1
              exchange an exchange of messages that speaks AMQP 0-9-1
              journal  a log of records that speaks Kafka's protocol
              leak, busy, lock, dependency
                       a berth board that loses memory, computes too much, waits for a lock, waits for another service
              steady, refusing, dying, stalling, tiring
                       a berth board that computes a little for each answer, and faster ones that refuse most calls in
                       three of ten starts, die or stand still again and again in half of them, get slower with each call
              known    answers /N/anything after N rounds of SHA-256, for differences of known size; other paths after
                       those of --set ROUNDS=N
              habit    a berth board with the habit of --set HABIT=in-pieces, closing, expecting, forgetful, remembering, cached,
                       shortening, patient, writing, single, full or healthy
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

    /** What stands behind each {@code --set}, as long as it is a setting. */
    private static List<String> settings(String[] arguments) {
        var settings = new ArrayList<String>();
        for (int i = 3; i + 1 < arguments.length; i += 2) {
            if (arguments[i].equals("--set") && arguments[i + 1].matches("[A-Z_]{1,40}=[A-Za-z0-9_.-]{1,60}")) {
                settings.add(arguments[i + 1]);
            }
        }
        return settings;
    }

    private static String setting(List<String> settings, String name, String otherwise) {
        return settings.stream().filter(one -> one.startsWith(name + "=")).findFirst()
                .map(one -> one.substring(name.length() + 1)).orElse(otherwise);
    }

    private static int rounds(List<String> settings) {
        return settings.stream().filter(one -> one.matches("ROUNDS=\\d{1,9}")).findFirst()
                .map(one -> Integer.parseInt(one.substring("ROUNDS=".length()))).orElse(0);
    }

    public static void main(String[] arguments) throws IOException, InterruptedException {
        List<String> settings = settings(arguments);
        if (arguments.length < 3 || arguments.length != 3 + 2 * settings.size() || !arguments[1].equals("--port")
                || !arguments[2].matches("\\d{1,5}")) {
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
                case "live" -> LiveService.on(port).serve();
                case "gauge" -> GaugeService.on(port).serve();
                case "broker" -> BrokerService.on(port).serve();
                case "exchange" -> ExchangeService.on(port).serve();
                case "journal" -> JournalService.on(port).serve();
                case "store" -> StoreService.on(port).serve();
                case "sql" -> DatabaseService.on(port, settings).serve();
                case "leak", "busy", "lock", "dependency", "steady", "refusing", "dying", "stalling", "tiring" -> {
                    TroubledService.start(arguments[0], port);
                    Thread.currentThread().join();
                }
                case "known" -> {
                    KnownCostService.start(port, rounds(settings));
                    Thread.currentThread().join();
                }
                case "habit" -> {
                    HabitService.start(Habit.byId(setting(settings, "HABIT", "healthy")), port);
                    Thread.currentThread().join();
                }
                case "host" -> host(port);
                default -> {
                    System.err.println("there is no stand-in called " + arguments[0] + "\n" + USAGE);
                    System.exit(2);
                }
            }
        } catch (IllegalArgumentException cause) {
            System.err.println(cause.getMessage());
            System.exit(2);
        } catch (SQLException cause) {
            System.err.println("the database cannot be started: " + cause.getMessage());
            System.exit(3);
        } catch (BindException cause) {
            System.err.println("port " + port + " on 127.0.0.1 cannot be used: " + cause.getMessage()
                    + "; end what listens there, or choose another port");
            System.exit(3);
        }
    }
}
