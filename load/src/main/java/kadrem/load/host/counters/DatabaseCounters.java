package kadrem.load.host.counters;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.List;

import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.core.study.WatchSource;
import kadrem.load.drive.Databases;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;
import kadrem.load.host.HostSource;
import kadrem.load.host.Series;
import kadrem.load.host.SourceFailure;

/** A database's own counters: one row with a series a column, or rows of a name and a number. */
public final class DatabaseCounters implements HostSource {
    private static final int PATIENCE_SECONDS = 5;
    private static final int MOST_SERIES = 200;

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
        Connection connection = null;
        try {
            connection = Databases.connect(source.database(), source.user(), source.password(), secrets);
            connection.setReadOnly(true);
            PreparedStatement query = connection.prepareStatement(source.query());
            query.setQueryTimeout(PATIENCE_SECONDS);
            return new DatabaseCounters(source, connection, query);
        } catch (SQLException | UnusableCall cause) {
            close(connection);
            throw new SourceFailure("the database cannot be asked: " + secrets.mask(String.valueOf(cause.getMessage())),
                    cause);
        }
    }

    @Override
    public List<WatchReading.Value> read() throws SourceFailure {
        try (ResultSet rows = query.executeQuery()) {
            series.at(System.nanoTime());
            ResultSetMetaData columns = rows.getMetaData();
            boolean named = columns.getColumnCount() == 2 && isText(columns.getColumnType(1));
            for (int row = 0; rows.next() && row < MOST_SERIES; row++) {
                if (named) {
                    add(rows.getString(1), rows.getDouble(2));
                } else if (row == 0) {
                    for (int i = 1; i <= columns.getColumnCount(); i++) {
                        add(columns.getColumnLabel(i), rows.getDouble(i));
                    }
                }
            }
            return series.values();
        } catch (SQLException cause) {
            throw new SourceFailure("the query fails: " + cause.getMessage(), cause);
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

    private static void close(@org.jspecify.annotations.Nullable Connection connection) {
        try {
            if (connection != null) {
                connection.close();
            }
        } catch (SQLException _) {
            // it was lost before
        }
    }
}
