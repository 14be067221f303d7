package kadrem.standins.berths;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class DatabaseServiceTest {
    private static void ask(String statement) throws Exception {
        try (DatabaseService service = DatabaseService.on(0, List.of());
                Connection guest = DriverManager
                        .getConnection("jdbc:h2:tcp://127.0.0.1:" + service.port() + "/board");
                Statement asked = guest.createStatement()) {
            asked.execute(statement);
        }
    }

    @Test
    void whoAsksWithoutANameReadsAndWritesTheBerths() throws Exception {
        try (DatabaseService service = DatabaseService.on(0, List.of());
                Connection guest = DriverManager
                        .getConnection("jdbc:h2:tcp://127.0.0.1:" + service.port() + "/board");
                Statement asked = guest.createStatement();
                ResultSet rows = asked.executeQuery("select count(*) from berth")) {
            assertThat(rows.next()).isTrue();
            assertThat(rows.getInt(1)).isEqualTo(2400);
        }
    }

    /** What runs code or reads files in the database's process. Source: H2 documentation, "Commands", each "Admin rights are required". */
    @ParameterizedTest
    @ValueSource(strings = {"create alias x as 'void x() {}'", "script to '/tmp/kadrem-never'",
            "runscript from '/etc/passwd'", "create user me password 'x' admin",
            "create table y as select * from csvread('/etc/passwd')", "alter user \"\" admin true"})
    void andMayDoNothingElse(String statement) {
        assertThatThrownBy(() -> ask(statement)).isInstanceOf(SQLException.class)
                .hasMessageMatching("(?s).*(Admin rights|Not enough rights|rights are required).*");
    }
}
