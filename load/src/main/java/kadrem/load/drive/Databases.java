package kadrem.load.drive;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
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
}
