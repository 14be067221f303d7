package kadrem.load.campaign;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;

import com.sun.net.httpserver.HttpServer;

/** A program that keeps a megabyte for each call under way, and so ends for want of memory under many users. */
final class FragileService {
    private static final int PER_CALL = 1 << 20;
    private static final Semaphore FIRST_HALF = new Semaphore(0);

    private FragileService() {
    }

    public static void main(String[] arguments) throws IOException {
        HttpServer server = HttpServer.create(
                new InetSocketAddress(InetAddress.getLoopbackAddress(), Integer.parseInt(arguments[0])), 256);
        server.createContext("/", exchange -> {
            byte[] kept = new byte[exchange.getRequestURI().getPath().equals("/health") ? 1 : PER_CALL];
            try {
                // calls that come together are under way together
                FIRST_HALF.tryAcquire(300, java.util.concurrent.TimeUnit.MILLISECONDS);
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
            exchange.sendResponseHeaders(200, kept.length > 1 ? 2 : 1);
            try (var out = exchange.getResponseBody()) {
                out.write(kept, 0, kept.length > 1 ? 2 : 1);
            }
        });
        server.setExecutor(Executors.newCachedThreadPool());
        server.start();
        System.out.println("the fragile one answers");
    }
}
