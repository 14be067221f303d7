package kadrem.load.drive;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Properties;

/** Connections to databases that a study names. */
public final class Databases {
    private Databases() {
    }

    /**
     * @param address JDBC address
     * @param user empty where the address needs none
     * @param password text with references to secrets; empty where there is none
     * @throws UnusableCall if a secret is not where the study says
     */
    public static Connection connect(String address, String user, String password, Secrets secrets)
            throws SQLException, UnusableCall {
        var properties = new Properties();
        if (!user.isEmpty()) {
            properties.setProperty("user", user);
        }
        if (!password.isEmpty()) {
            properties.setProperty("password", secrets.fill(password));
        }
        return DriverManager.getConnection(address, properties);
    }

    /** Executes a statement; its rows are lines, with blanks between their values. Empty where it gives none. */
    public static String lines(Statement statement, String sql) throws SQLException {
        if (!statement.execute(sql)) {
            return "";
        }
        var told = new StringBuilder();
        try (ResultSet rows = statement.getResultSet()) {
            int columns = rows.getMetaData().getColumnCount();
            while (rows.next()) {
                for (int column = 1; column <= columns; column++) {
                    told.append(column == 1 ? "" : " ").append(rows.getString(column));
                }
                told.append('\n');
            }
        }
        return told.toString();
    }
}
