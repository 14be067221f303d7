package kadrem.load.drive.sql;

import java.util.List;
import java.util.Optional;

import kadrem.core.study.Call;

/**
 * A statement cut into SQL and parameters. A placeholder stands for a whole value, never for a part of one: quotes right around
 * it are taken away, and inside a longer text it is refused.
 */
final class SqlText {
    private SqlText() {
    }

    /** What is wrong with a statement, in words that follow "the form"; empty where nothing is. */
    static Optional<String> objection(String statement) {
        List<String> parts = pieces(statement);
        boolean inText = false;
        for (int i = 0; i < parts.size(); i++) {
            if (i % 2 == 0) {
                inText ^= parts.get(i).chars().filter(c -> c == '\'').count() % 2 == 1;
            } else if (inText) {
                return Optional.of("has {{" + parts.get(i) + "}} inside a text, where no parameter can stand;"
                        + " write 'text ' || {{" + parts.get(i) + "}} or concat('text ', {{" + parts.get(i) + "}})");
            }
        }
        return Optional.empty();
    }

    /** SQL, name, SQL, name, …, SQL; without quotes that stand right around a name. */
    static List<String> pieces(String statement) {
        return Call.split(statement.strip().replaceAll("'(\\{\\{[^{}]*}})'", "$1"));
    }

    /** The statement as JDBC wants it: a question mark for each parameter. */
    static String withMarks(List<String> pieces) {
        var sql = new StringBuilder();
        for (int i = 0; i < pieces.size(); i += 2) {
            sql.append(i == 0 ? "" : "?").append(pieces.get(i));
        }
        return sql.toString();
    }

    /** The statement with values written into it, as SQL writes texts. */
    static String withValues(List<String> pieces, List<Object> values) {
        var sql = new StringBuilder();
        for (int i = 0; i < pieces.size(); i++) {
            if (i % 2 == 0) {
                sql.append(pieces.get(i));
            } else {
                Object value = values.get(i / 2);
                sql.append(value instanceof Number
                        ? value.toString()
                        : "'" + value.toString().replace("'", "''") + "'");
            }
        }
        return sql.toString();
    }
}
