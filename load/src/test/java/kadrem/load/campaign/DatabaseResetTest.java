package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.Map;

import kadrem.core.study.Candidate;
import kadrem.load.drive.Secrets;
import org.junit.jupiter.api.Test;

/** Resets of a real database, H2 in memory. */
class DatabaseResetTest {
    private static final String DATABASE = "jdbc:h2:mem:resets;DB_CLOSE_DELAY=-1";
    private static final Secrets SECRETS = new Secrets(Map.of("BOARD_PASSWORD", "sesame-1"), Path.of("."));
    private static final Duration LIMIT = Duration.ofSeconds(5);

    private static Candidate.ControlSql reset(String password, String... statements) {
        return new Candidate.ControlSql(DATABASE, "harbour", password, List.of(statements));
    }

    @Test
    void statementsRunTogetherOrNotAtAll() throws Exception {
        try (Connection board = DriverManager.getConnection(DATABASE, "harbour", "sesame-1");
                Statement statement = board.createStatement()) {
            statement.execute("CREATE TABLE reservation (vessel VARCHAR(20))");
            statement.execute("INSERT INTO reservation VALUES ('Tern'), ('Petrel'), ('Avocet')");
            assertThatThrownBy(() -> DatabaseReset.run(
                    reset("{{env:BOARD_PASSWORD}}", "DELETE FROM reservation", "DELETE FROM nowhere"), SECRETS, LIMIT))
                    .isInstanceOf(CandidateFailure.class).hasMessageContaining("failed at \"DELETE FROM nowhere\"");
            assertThat(rows(statement)).as("nothing was taken").isEqualTo(3);
            DatabaseReset.run(reset("{{env:BOARD_PASSWORD}}", "DELETE FROM reservation",
                    "INSERT INTO reservation VALUES ('Tern')"), SECRETS, LIMIT);
            assertThat(rows(statement)).isEqualTo(1);
        }
    }

    private static int rows(Statement statement) throws Exception {
        try (ResultSet found = statement.executeQuery("SELECT COUNT(*) FROM reservation")) {
            found.next();
            return found.getInt(1);
        }
    }

    @Test
    void aMissingSecretAnUnknownDriverAndAServerThatIsNotThereAreTold() {
        assertThatThrownBy(() -> DatabaseReset.run(reset("{{env:NO_SUCH}}", "DELETE FROM r"), SECRETS, LIMIT))
                .hasMessageContaining("NO_SUCH is not set");
        assertThatThrownBy(() -> DatabaseReset.run(
                new Candidate.ControlSql("jdbc:nothing:x", "", "", List.of("SELECT 1")), SECRETS, LIMIT))
                .hasMessageContaining("no JDBC driver is there");
        for (String database : List.of("jdbc:postgresql://127.0.0.1:1/board", "jdbc:mariadb://127.0.0.1:1/board")) {
            assertThatThrownBy(() -> DatabaseReset.run(new Candidate.ControlSql(database, "harbour",
                    "{{env:BOARD_PASSWORD}}", List.of("SELECT 1")), SECRETS, LIMIT)).as(database)
                    .hasMessageContaining("failed at \"connecting\"").hasMessageNotContaining("sesame")
                    .hasMessageNotContaining("no JDBC driver is there");
        }
    }
}
