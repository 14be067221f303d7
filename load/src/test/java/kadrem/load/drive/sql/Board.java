package kadrem.load.drive.sql;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** A small berth board in a database, made and looked at by JDBC alone. */
final class Board {
    static final int BERTHS = 40;

    private Board() {
    }

    static void fill(String address) throws SQLException {
        try (Connection connection = DriverManager.getConnection(address);
                var statement = connection.createStatement()) {
            statement.execute("create table berth (id int primary key, quay varchar(40), length int)");
            statement.execute("create table stay (berth int, from_day varchar(10), vessel varchar(80))");
            for (int i = 1; i <= BERTHS; i++) {
                statement.execute("insert into berth values (" + i + ", 'North Quay', " + (8 + i % 7) + ")");
            }
        }
    }

    static List<String> column(String address, String query) throws SQLException {
        try (Connection connection = DriverManager.getConnection(address);
                var statement = connection.createStatement();
                var rows = statement.executeQuery(query)) {
            var found = new ArrayList<String>();
            while (rows.next()) {
                found.add(rows.getString(1));
            }
            return found;
        }
    }

    static long count(String address, String table) throws SQLException {
        return Long.parseLong(column(address, "select count(*) from " + table).getFirst());
    }
}
