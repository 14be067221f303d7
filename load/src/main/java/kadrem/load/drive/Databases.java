package kadrem.load.drive;

import java.sql.Connection;
import java.sql.Driver;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;

import kadrem.load.content.UnusableCall;

/** Connections to databases that a study names. */
public final class Databases {
    /** SQLSTATE of class 08, connection exception (ISO/IEC 9075-2): the client cannot make the connection. */
    private static final String NO_CONNECTION = "08001";

    /** Characters of an answer that is kept whole. */
    private static final int MAX_TOLD = 1 << 20;

    /** Looked for once, as every connection asks for one. */
    private static final List<Driver> DRIVERS = drivers();

    private Databases() {
    }

    /**
     * @param address JDBC address
     * @param user empty where the address needs none
     * @param password text with references to secrets; empty where there is none
     * @param more further properties of its driver, by their names
     * @throws UnusableCall if a secret is not where the study says
     */
    public static Connection connect(String address, String user, String password, Secrets secrets,
            Map<String, String> more) throws SQLException, UnusableCall {
        var properties = new Properties();
        properties.putAll(more);
        if (!user.isEmpty()) {
            properties.setProperty("user", user);
        }
        if (!password.isEmpty()) {
            properties.setProperty("password", secrets.fill(password));
        }
        Connection connection = driver(address).connect(address, properties);
        if (connection == null) {
            throw new SQLException("its driver does not take the address " + address, NO_CONNECTION);
        }
        return connection;
    }

    private static List<Driver> drivers() {
        var found = new ArrayList<Driver>();
        Iterator<Driver> drivers = ServiceLoader.load(Driver.class, UserDrivers.loader()).iterator();
        boolean more = true;
        while (more) {
            try {
                more = drivers.hasNext();
                if (more) {
                    found.add(drivers.next());
                }
            } catch (ServiceConfigurationError | LinkageError _) {
                // a jar that is broken; the address may be another's
            }
        }
        return List.copyOf(found);
    }

    /**
     * The driver for an address: one that ships, or one of the user's own.
     *
     * @throws SQLException if there is none
     */
    public static Driver driver(String address) throws SQLException {
        for (Driver driver : DRIVERS) {
            if (driver.acceptsURL(address)) {
                return driver;
            }
        }
        throw new SQLException("no JDBC driver is there for " + address
                + "; fetch one with kadrem driver GROUP:ARTIFACT:VERSION, or put its jar into " + UserDrivers.folder(),
                NO_CONNECTION);
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
                if (told.length() > MAX_TOLD) {
                    throw new SQLException("the answer has more than " + (MAX_TOLD >> 20)
                            + " MiB; ask for less, as by an aggregate");
                }
                for (int column = 1; column <= columns; column++) {
                    told.append(column == 1 ? "" : " ").append(rows.getString(column));
                }
                told.append('\n');
            }
        }
        return told.toString();
    }
}
