package kadrem.load.campaign;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.Properties;

import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.SecretReference;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;

/** Puts a database back to the start by statements of the study, in one transaction where the database can. */
final class DatabaseReset {
    private DatabaseReset() {
    }

    /** @throws CandidateFailure if the database cannot be reached or refuses a statement; the message says which */
    static void run(Candidate.ControlSql reset, Secrets secrets, Duration limit) throws CandidateFailure {
        var properties = new Properties();
        try {
            if (!reset.user().isEmpty()) {
                properties.setProperty("user", reset.user());
            }
            if (!reset.password().isEmpty()) {
                properties.setProperty("password", resolved(reset.password(), secrets));
            }
        } catch (UnusableCall cause) {
            throw new CandidateFailure("its reset cannot be made: " + cause.getMessage());
        }
        String last = "connecting";
        try (Connection connection = DriverManager.getConnection(reset.database(), properties)) {
            connection.setAutoCommit(false);
            try (Statement statement = connection.createStatement()) {
                statement.setQueryTimeout(Math.toIntExact(limit.toSeconds()));
                for (String sql : reset.statements()) {
                    last = sql;
                    statement.execute(sql);
                }
            }
            last = "commit";
            connection.commit();
        } catch (SQLException cause) {
            throw new CandidateFailure("its reset on " + reset.database() + " failed at \"" + last + "\": "
                    + secrets.mask(String.valueOf(cause.getMessage())));
        }
    }

    private static String resolved(String template, Secrets secrets) throws UnusableCall {
        var text = new StringBuilder();
        List<String> parts = Call.split(template);
        for (int i = 0; i < parts.size(); i++) {
            text.append(i % 2 == 1 ? secrets.resolve(SecretReference.parse(parts.get(i))) : parts.get(i));
        }
        return text.toString();
    }
}
