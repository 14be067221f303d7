package kadrem.standins.berths;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.CountDownLatch;

import org.h2.tools.Server;

/**
 * The berths in an SQL database of its own process, to be asked by JDBC: {@code jdbc:h2:tcp://127.0.0.1:PORT/board}. In memory
 * without settings; with settings of the database in a file of a temporary folder, so that they have something to decide.
 */
public final class DatabaseService implements AutoCloseable {
    static {
        // before the database's own classes look at it: it would listen on every interface
        System.setProperty("h2.bindAddress", "127.0.0.1");
    }

    /** Who may do everything, code that a statement brings along included; its password is made anew at each start and told to nobody. */
    private static final String KEEPER = "KEEPER";
    /** Who asks without a name may read and write the berths, and nothing else. */
    private static final List<String> GUEST = List.of("create user \"\" password ''",
            "grant select, insert, update, delete on schema public to \"\"");

    private final Server server;
    private final Connection held;

    private DatabaseService(Server server, Connection held) {
        this.server = server;
        this.held = held;
    }

    /**
     * @param port 0 for any free one
     * @param settings such as WRITE_DELAY=0
     */
    public static DatabaseService on(int port, List<String> settings) throws SQLException, IOException {
        String place = settings.isEmpty() ? "mem:" + UUID.randomUUID() : folder() + "/board";
        String options = settings.stream().map(one -> ";" + one).reduce("", String::concat);
        // held open, so that the database is not closed between two connections
        Connection held = DriverManager.getConnection("jdbc:h2:" + place + options + ";DB_CLOSE_DELAY=-1", KEEPER,
                UUID.randomUUID().toString());
        SqlBoard.fill(held);
        try (Statement statement = held.createStatement()) {
            for (String right : GUEST) {
                statement.execute(right);
            }
        }
        Server server = Server.createTcpServer("-tcpPort", Integer.toString(port), "-ifExists", "-key", "board", place)
                .start();
        return new DatabaseService(server, held);
    }

    private static String folder() throws IOException {
        Path folder = Files.createTempDirectory("kadrem-berths");
        folder.toFile().deleteOnExit();
        return folder.toAbsolutePath().toString();
    }

    public int port() {
        return server.getPort();
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("berth database answers on jdbc:h2:tcp://127.0.0.1:" + port() + "/board");
        new CountDownLatch(1).await();
    }

    @Override
    public void close() throws SQLException {
        server.stop();
        try (held; Statement statement = held.createStatement()) {
            statement.execute("shutdown");
        }
    }
}
