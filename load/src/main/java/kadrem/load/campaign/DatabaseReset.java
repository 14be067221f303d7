package kadrem.load.campaign;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;

import kadrem.core.study.Candidate;
import kadrem.load.drive.Databases;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;

/** Puts a database back to the start by statements of the study, in one transaction where the database can. */
final class DatabaseReset {
    private DatabaseReset() {
    }

    /**
     * The rows of the last statement, a line each, with blanks between their values.
     *
     * @throws CandidateFailure if the database cannot be reached or refuses a statement; the message says which
     */
    static String ask(Candidate.ControlSql question, Secrets secrets, Duration limit) throws CandidateFailure {
        String told = "";
        String last = "connecting";
        try (Connection connection = Databases.connect(question.database(), question.user(), question.password(),
                secrets); Statement statement = connection.createStatement()) {
            statement.setQueryTimeout(Math.toIntExact(limit.toSeconds()));
            for (String sql : question.statements()) {
                last = sql;
                told = Databases.lines(statement, sql);
            }
            return told.strip();
        } catch (UnusableCall cause) {
            throw new CandidateFailure("its data cannot be asked for: " + cause.getMessage());
        } catch (SQLException cause) {
            throw new CandidateFailure("its data could not be asked for on " + question.database() + " with \"" + last
                    + "\": " + secrets.mask(String.valueOf(cause.getMessage())));
        }
    }

    /** @throws CandidateFailure if the database cannot be reached or refuses a statement; the message says which */
    static void run(Candidate.ControlSql reset, Secrets secrets, Duration limit) throws CandidateFailure {
        String last = "connecting";
        try (Connection connection = Databases.connect(reset.database(), reset.user(), reset.password(),
                secrets)) {
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
        } catch (UnusableCall cause) {
            throw new CandidateFailure("its reset cannot be made: " + cause.getMessage());
        } catch (SQLException cause) {
            throw new CandidateFailure("its reset on " + reset.database() + " failed at \"" + last + "\": "
                    + secrets.mask(String.valueOf(cause.getMessage())));
        }
    }
}
