package kadrem.load.campaign;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicReference;

import kadrem.core.study.Candidate;
import kadrem.load.drive.Databases;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.sql.CountedSockets;
import kadrem.load.drive.sql.SqlDeadline;

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
        var last = new AtomicReference<>("connecting");
        try {
            return SqlDeadline.within(ofAll(question, limit), () -> {
                try (Connection connection = connect(question, secrets);
                        Statement statement = connection.createStatement()) {
                    String told = "";
                    statement.setQueryTimeout(Math.toIntExact(limit.toSeconds()));
                    for (String sql : question.statements()) {
                        last.set(sql);
                        told = Databases.lines(statement, sql);
                    }
                    return told.strip();
                }
            });
        } catch (UnusableCall cause) {
            throw new CandidateFailure("its data cannot be asked for: " + cause.getMessage());
        } catch (SQLException cause) {
            throw new CandidateFailure("its data could not be asked for on " + question.database() + " with \""
                    + last.get() + "\": " + secrets.mask(String.valueOf(cause.getMessage())));
        }
    }

    /** Each statement, and connecting, has the limit. */
    private static Duration ofAll(Candidate.ControlSql control, Duration limit) {
        return limit.multipliedBy(control.statements().size() + 1L);
    }

    private static Connection connect(Candidate.ControlSql control, Secrets secrets) throws SQLException, UnusableCall {
        return Databases.connect(control.database(), control.user(), control.password(), secrets,
                CountedSockets.properties(control.database()));
    }

    /** @throws CandidateFailure if the database cannot be reached or refuses a statement; the message says which */
    static void run(Candidate.ControlSql reset, Secrets secrets, Duration limit) throws CandidateFailure {
        var last = new AtomicReference<>("connecting");
        try {
            SqlDeadline.within(ofAll(reset, limit), () -> {
                try (Connection connection = connect(reset, secrets)) {
                    connection.setAutoCommit(false);
                    try (Statement statement = connection.createStatement()) {
                        statement.setQueryTimeout(Math.toIntExact(limit.toSeconds()));
                        for (String sql : reset.statements()) {
                            last.set(sql);
                            statement.execute(sql);
                        }
                    }
                    last.set("commit");
                    connection.commit();
                    return true;
                }
            });
        } catch (UnusableCall cause) {
            throw new CandidateFailure("its reset cannot be made: " + cause.getMessage());
        } catch (SQLException cause) {
            throw new CandidateFailure("its reset on " + reset.database() + " failed at \"" + last.get() + "\": "
                    + secrets.mask(String.valueOf(cause.getMessage())));
        }
    }
}
