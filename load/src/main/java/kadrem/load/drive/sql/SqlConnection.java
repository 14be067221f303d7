package kadrem.load.drive.sql;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import org.jspecify.annotations.Nullable;
import org.slf4j.LoggerFactory;

/** One user at a database: with a connection of its own, or with one from a pool for each transaction. */
final class SqlConnection implements Client.UserConnection<List<Object>> {
    private static final byte[] NOT_KEPT = {};
    private static final Duration LAST_WORDS = Duration.ofSeconds(1);

    private final List<SqlStatement> statements;
    private final SqlSettings settings;
    private final Source source;
    private final Secrets secrets;
    private final boolean own;
    /** Prepared statements of the present connection by the number of their call. */
    private final Map<Integer, PreparedStatement> prepared = new HashMap<>();
    private volatile @Nullable Connection connection;
    private volatile @Nullable Statement underWay;
    private boolean broken;
    private boolean inTransaction;

    /** Where connections come from. */
    interface Source {
        Connection get() throws CallFailure;
    }

    /** @param own whether a connection is kept; otherwise it is given back after each transaction */
    SqlConnection(List<SqlStatement> statements, SqlSettings settings, Source source, Secrets secrets, boolean own) {
        this.statements = statements;
        this.settings = settings;
        this.source = source;
        this.secrets = secrets;
        this.own = own;
    }

    /** The present connection, or a new one. */
    Connection take() throws CallFailure {
        Connection known = connection;
        if (known != null) {
            return known;
        }
        Connection made = source.get();
        connection = made;
        try {
            if (settings.isolation() != Connection.TRANSACTION_NONE) {
                made.setTransactionIsolation(settings.isolation());
            }
            made.setAutoCommit(!settings.byVisit());
            return made;
        } catch (SQLException cause) {
            broken = true;
            throw SqlState.failure(cause, true, secrets);
        }
    }

    @Override
    public void beginVisit() {
        endTransaction(false);
    }

    @Override
    public Client.Answer call(int call, List<Object> values, boolean keeps, Client.Marks marks) throws CallFailure {
        CountedSockets.Traffic traffic = CountedSockets.ofThread();
        traffic.begin();
        try {
            return made(take(), call, values, keeps, marks).withSizes(traffic.sent(), traffic.received());
        } finally {
            traffic.end();
        }
    }

    private Client.Answer made(Connection open, int call, List<Object> values, boolean keeps, Client.Marks marks)
            throws CallFailure {
        try {
            Client.Answer answer = execute(open, call, statements.get(call), values, keeps, marks);
            if (settings.byVisit()) {
                inTransaction = true;
                if (settings.lastCalls().contains(call)) {
                    open.commit();
                    inTransaction = false;
                }
            }
            if (!inTransaction) {
                giveBack();
            }
            return answer;
        } catch (SQLException cause) {
            CallFailure failure = SqlState.failure(cause, false, secrets);
            broken = failure.kind() == FailureKind.RESET || failure.kind() == FailureKind.MALFORMED || isClosed(open);
            endTransaction(true);
            throw failure;
        } catch (CallFailure failure) {
            endTransaction(true);
            throw failure;
        } finally {
            underWay = null;
        }
    }

    private static boolean isClosed(Connection connection) {
        try {
            return connection.isClosed();
        } catch (SQLException _) {
            return true;
        }
    }

    private Client.Answer execute(Connection open, int call, SqlStatement statement, List<Object> values,
            boolean keeps, Client.Marks marks) throws SQLException, CallFailure {
        if (settings.prepared()) {
            PreparedStatement made = prepared(open, call, statement);
            underWay = made;
            try {
                for (int i = 0; i < values.size(); i++) {
                    set(made, i + 1, values.get(i));
                }
                return answer(statement, made, made.execute(), keeps, marks);
            } finally {
                if (!own) {
                    made.close();
                }
            }
        }
        try (Statement plain = open.createStatement()) {
            underWay = plain;
            fetch(plain);
            String sql = SqlText.withValues(statement.pieces(), values);
            boolean rows = statement.keys()
                    ? plain.execute(sql, Statement.RETURN_GENERATED_KEYS)
                    : plain.execute(sql);
            return answer(statement, plain, rows, keeps, marks);
        }
    }

    private PreparedStatement prepared(Connection open, int call, SqlStatement statement) throws SQLException {
        PreparedStatement known = prepared.get(call);
        if (known != null) {
            return known;
        }
        PreparedStatement made = statement.keys()
                ? open.prepareStatement(statement.sql(), Statement.RETURN_GENERATED_KEYS)
                : open.prepareStatement(statement.sql());
        fetch(made);
        if (own) {
            prepared.put(call, made);
        }
        return made;
    }

    private void fetch(Statement statement) throws SQLException {
        if (settings.fetch() > 0) {
            statement.setFetchSize(settings.fetch());
        }
    }

    private void set(PreparedStatement statement, int place, Object value) throws SQLException {
        if (value instanceof Long number) {
            statement.setLong(place, number);
        } else if (settings.literal()) {
            statement.setObject(place, value, Types.OTHER);
        } else {
            statement.setString(place, value.toString());
        }
    }

    private Client.Answer answer(SqlStatement statement, Statement made, boolean isRows, boolean keeps,
            Client.Marks marks) throws SQLException, CallFailure {
        var rows = new Rows(settings.room(), settings.fetch());
        byte[] content = NOT_KEPT;
        boolean returned = isRows || statement.keys();
        if (returned) {
            try (ResultSet found = isRows ? made.getResultSet() : made.getGeneratedKeys()) {
                if (keeps) {
                    content = rows.json(found, marks);
                } else {
                    rows.pass(found, marks);
                }
            }
        }
        long count = returned ? rows.count() : Math.max(0, made.getUpdateCount());
        if (!returned && keeps) {
            content = ("{\"changed\":" + count + "}").getBytes(java.nio.charset.StandardCharsets.US_ASCII);
        }
        String wrong = statement.objection(count);
        if (!wrong.isEmpty()) {
            throw new CallFailure(FailureKind.FAILED_EXPECTATION, SqlState.GOOD, wrong);
        }
        return new Client.Answer(SqlState.GOOD, 0, 0,
                count + (count == 1 ? " row" : " rows") + (returned ? "" : " changed"), "application/json", content);
    }

    /** Ends what a visit left open, and gives a connection of a pool back. */
    private void endTransaction(boolean failed) {
        Connection open = connection;
        if (open != null && settings.byVisit() && (inTransaction || failed) && !broken) {
            try {
                open.rollback();
            } catch (SQLException cause) {
                broken = true;
                LoggerFactory.getLogger(SqlConnection.class).debug("a transaction could not be rolled back", cause);
            }
        }
        inTransaction = false;
        giveBack();
    }

    private void giveBack() {
        if (!own) {
            close();
        }
    }

    @Override
    public void cancel() {
        Statement running = underWay;
        Connection open = connection;
        try {
            if (running != null) {
                cancel(running);
            }
            if (open != null && own) {
                open.abort(Runnable::run);
            }
        } catch (SQLException cause) {
            LoggerFactory.getLogger(SqlConnection.class).debug("a connection could not be given up", cause);
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }

    /** Asks the database to stop; one that does not answer to that is not waited for. */
    private static void cancel(Statement running) throws InterruptedException {
        // not a virtual one: statements of a database in this process may hold all of those that carry them
        Thread asking = Thread.ofPlatform().daemon().name("kadrem-cancel").start(() -> {
            try {
                running.cancel();
            } catch (SQLException cause) {
                LoggerFactory.getLogger(SqlConnection.class).debug("a statement could not be cancelled", cause);
            }
        });
        if (!asking.join(LAST_WORDS)) {
            asking.interrupt();
        }
    }

    @Override
    public boolean isUsable() {
        return !broken;
    }

    @Override
    public void close() {
        prepared.clear();
        Connection open = connection;
        connection = null;
        broken = false;
        if (open != null) {
            try {
                open.close();
            } catch (SQLException cause) {
                LoggerFactory.getLogger(SqlConnection.class).debug("a connection could not be closed", cause);
            }
        }
    }
}
