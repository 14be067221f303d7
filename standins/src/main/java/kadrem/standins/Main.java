package kadrem.standins;

import java.io.IOException;
import java.net.BindException;

import kadrem.standins.berths.LoopService;
import kadrem.standins.berths.SqlService;

/** Starts one stand-in on a loopback port: {@code NAME --port N}. */
public final class Main {
    private static final String USAGE = """
            usage: kadrem standin NAME --port N
            names:
              pool     berth board: a bounded thread pool over an embedded SQL database
              virtual  berth board: a virtual thread for each request over the same SQL
              loop     berth board: an event loop with an in-memory cache and write-behind""";

    private Main() {
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
