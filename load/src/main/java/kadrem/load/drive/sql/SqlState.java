package kadrem.load.drive.sql;

import java.sql.SQLException;
import java.sql.SQLTimeoutException;
import java.util.Locale;

import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.blocking.CallFailure;

/** SQLSTATEs as numbers, and what they say of a failure. Source: ISO/IEC 9075-2, 24.1: five digits or upper-case letters. */
final class SqlState {
    private static final int RADIX = 36;
    private static final int DIGITS = 5;
    /** Answers that are not of a failure; no state is so small, since 00001 is none. */
    static final int GOOD = 1;

    private SqlState() {
    }

    static int number(String state) {
        return state.matches("[0-9A-Za-z]{5}") ? Integer.parseInt(state.toLowerCase(Locale.ROOT), RADIX) : 0;
    }

    static String word(int number) {
        if (number <= GOOD) {
            return "";
        }
        String digits = Integer.toString(number, RADIX).toUpperCase(Locale.ROOT);
        return "0".repeat(DIGITS - digits.length()) + digits;
    }

    /** @param connecting whether there was no connection yet */
    static CallFailure failure(SQLException cause, boolean connecting, Secrets secrets) {
        String state = String.valueOf(cause.getSQLState());
        String detail = secrets.mask(String.valueOf(cause.getMessage()).strip());
        FailureKind kind;
        for (Throwable one = cause; one != null; one = one.getCause()) {
            if (CountedSockets.isTooMuch(one)) {
                return new CallFailure(FailureKind.MALFORMED, 0, CountedSockets.TOO_MUCH);
            }
        }
        if (connecting && (state.startsWith("08") || cause.getCause() instanceof java.io.IOException)) {
            boolean refused = detail.toLowerCase(Locale.ROOT).contains("refused")
                    || cause.getCause() instanceof java.net.ConnectException;
            kind = refused ? FailureKind.REFUSED : FailureKind.NO_CONNECTION;
        } else if (cause instanceof SQLTimeoutException) {
            kind = FailureKind.TIMEOUT;
        } else if (state.startsWith("08")) {
            kind = FailureKind.RESET;
        } else {
            kind = FailureKind.UNEXPECTED_STATUS;
        }
        return new CallFailure(kind, number(state), detail);
    }
}
