package kadrem.load.host.counters;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;

import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.core.study.WatchSource;
import kadrem.load.drive.Databases;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.sql.CountedSockets;
import kadrem.load.drive.sql.SqlDeadline;
import kadrem.load.host.HostSource;
import kadrem.load.host.Series;
import kadrem.load.host.SourceFailure;

/** A database's own counters: one row with a series a column, or rows of a name and a number. */
public final class DatabaseCounters implements HostSource {
    private static final int PATIENCE_SECONDS = 5;
    /** Of a database that does not take the cancellation either. */
    private static final Duration GIVEN_UP = Duration.ofSeconds(PATIENCE_SECONDS + 2);
    private static final int MAX_SERIES = 200;

    private final WatchSource.Counters source;
    private final Series series;
    private final Connection connection;
    private final PreparedStatement query;

    private DatabaseCounters(WatchSource.Counters source, Connection connection, PreparedStatement query) {
        this.source = source;
        this.connection = connection;
        this.query = query;
        series = new Series(source.name());
    }

    /** @throws SourceFailure if there is no connection, or the query is not understood */
    public static DatabaseCounters open(WatchSource.Counters source, Secrets secrets) throws SourceFailure {
        try {
            return SqlDeadline.within(GIVEN_UP, () -> {
                Connection connection = Databases.connect(source.database(), source.user(), source.password(), secrets,
                        CountedSockets.properties(source.database()));
                try {
                    connection.setReadOnly(true);
                    PreparedStatement query = connection.prepareStatement(source.query());
                    query.setQueryTimeout(PATIENCE_SECONDS);
                    return new DatabaseCounters(source, connection, query);
                } catch (SQLException cause) {
                    close(connection);
                    throw cause;
                }
            });
        } catch (SQLException | UnusableCall cause) {
            throw new SourceFailure("the database cannot be asked: " + secrets.mask(String.valueOf(cause.getMessage())),
                    cause);
        }
    }

    @Override
    public List<WatchReading.Value> read() throws SourceFailure {
        try {
            return SqlDeadline.within(GIVEN_UP, this::values);
        } catch (SQLException | UnusableCall cause) {
            throw new SourceFailure("the query fails: " + cause.getMessage(), cause);
        }
    }

    private List<WatchReading.Value> values() throws SQLException {
        try (ResultSet rows = query.executeQuery()) {
            series.at(System.nanoTime());
            ResultSetMetaData columns = rows.getMetaData();
            boolean named = columns.getColumnCount() == 2 && isText(columns.getColumnType(1));
            for (int row = 0; rows.next() && row < MAX_SERIES; row++) {
                if (named) {
                    add(rows.getString(1), rows.getDouble(2));
                } else if (row == 0) {
                    for (int i = 1; i <= columns.getColumnCount(); i++) {
                        add(columns.getColumnLabel(i), rows.getDouble(i));
                    }
                }
            }
            return series.values();
        }
    }

    private static boolean isText(int type) {
        return switch (type) {
            case java.sql.Types.CHAR, java.sql.Types.VARCHAR, java.sql.Types.LONGVARCHAR, java.sql.Types.NVARCHAR,
                    java.sql.Types.OTHER ->
                true;
            default -> false;
        };
    }

    private void add(String name, double value) {
        if (source.counters().stream().anyMatch(name::equalsIgnoreCase)) {
            series.rate(name, "1/s", SeriesRole.CUSTOM, value);
        } else {
            series.level(name, "", SeriesRole.CUSTOM, value);
        }
    }

    @Override
    public void close() {
        close(connection);
    }

    private static void close(Connection connection) {
        try {
            connection.close();
        } catch (SQLException _) {
            // it was lost before
        }
    }
}
