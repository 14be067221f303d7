package kadrem.load.drive.sql;

import java.io.IOException;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.core.gate.Reach;
import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Candidate;
import kadrem.core.study.Form;
import kadrem.load.drive.Databases;
import kadrem.load.drive.DriverOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.BlockingProtocol;
import kadrem.load.drive.blocking.Client;

/** Statements to a database, by any JDBC driver that is there. */
public final class SqlProtocol implements BlockingProtocol {
    public static final String ID = "sql";
    private static final String NO_HOST = "localhost";
    private static final Pattern OF_HOST = Pattern
            .compile("(?://|@//?|@)(\\[[0-9A-Fa-f:.]+]|[^/:;?@]+)(?::(\\d{1,5}))?(?:[/;?:].*)?$");
    /** Databases that run in this process or are a file of this machine, by the beginning of their addresses. */
    private static final Pattern IN_PROCESS = Pattern.compile(
            "jdbc:(sqlite:|duckdb:|h2:(?!tcp:|ssl:)|hsqldb:(?!hsqls?:|https?:)|derby:(?!//)).*",
            Pattern.DOTALL | Pattern.CASE_INSENSITIVE);
    /** A list of hosts, or a host among the options, which would be used besides or instead. */
    private static final Pattern SEVERAL_HOSTS = Pattern.compile("//[^/]*,|[?&;](pg|server)?(host|name)=",
            Pattern.CASE_INSENSITIVE);
    private static final Pattern ROWS = Pattern.compile("(\\d{1,9})(?:-(\\d{1,9})?)?");

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "SQL by JDBC";
    }

    @Override
    public String exampleAddress() {
        return "jdbc:postgresql://127.0.0.1:5432/board";
    }

    @Override
    public Optional<Address> address(String text) {
        if (!text.startsWith("jdbc:") || text.length() < 7) {
            return Optional.empty();
        }
        String rest = text.substring("jdbc:".length());
        if (IN_PROCESS.matcher(text).matches()) {
            return Optional.of(new Address(ID, "jdbc", NO_HOST, 0, rest, false));
        }
        Matcher host = OF_HOST.matcher(text);
        boolean several = SEVERAL_HOSTS.matcher(text).find();
        // of an address that cannot be read the whole is the host, for which the user has to give a word
        return Optional.of(host.find() && !several
                ? new Address(ID, "jdbc", host.group(1).replaceAll("[\\[\\]]", ""),
                        host.group(2) == null ? usualPort(text) : Integer.parseInt(host.group(2)), rest, false)
                : new Address(ID, "jdbc", text, 0, rest, false));
    }

    private static int usualPort(String address) {
        return address.startsWith("jdbc:postgresql:")
                ? 5432
                : address.matches("jdbc:(mariadb|mysql):.*") ? 3306 : address.startsWith("jdbc:h2:") ? 9092 : 0;
    }

    @Override
    public List<Field> fields() {
        return List.of(
                Field.lines("statement", "statement; {{name}} is sent as a parameter",
                        "select id, length from berth where id = {{berth}}").needed(),
                Field.line("rows", "rows that are expected, or changed", "1, or 0-50"),
                Field.choice("keys", "rows of the answer", "returned", "generated"));
    }

    @Override
    public List<Field> settings() {
        return List.of(Field.line("user", "user", "harbour"),
                Field.secret("password", "password", "\"{{env:BOARD_PASSWORD}}\""),
                Field.line("pool", "connections that all users share; each has its own where it is empty", "10"),
                Field.choice("prepared", "statements", "true", "false"),
                Field.choice("transaction", "a transaction is", "call", "visit"),
                Field.choice("isolation", "isolation", "default", "read-uncommitted", "read-committed",
                        "repeatable-read", "serializable"),
                Field.line("fetch", "rows that are fetched at a time", "100"));
    }

    @Override
    public Optional<String> objection(Form form) {
        String rows = form.text("rows").strip();
        if (!rows.isEmpty() && !ROWS.matcher(rows).matches()) {
            return Optional.of("has \"" + rows + "\" as its rows; write 1, 0-50 or 1-");
        }
        return form.text("statement").isBlank() ? Optional.empty() : SqlText.objection(form.text("statement"));
    }

    @Override
    public Optional<String> objection(Address address, Map<String, List<String>> settings) {
        if (address.toString().toLowerCase(Locale.ROOT).matches(".*(password|pwd)=.*")) {
            return Optional
                    .of("has a password in its address; write it as the setting password, a reference to a secret");
        }
        for (String number : List.of("pool", "fetch")) {
            String text = String.join("", settings.getOrDefault(number, List.of()));
            if (!text.isEmpty() && !text.matches("[1-9]\\d{0,4}")) {
                return Optional.of("has \"" + text + "\" as its setting " + number + "; write a whole number above 0");
            }
        }
        return Optional.empty();
    }

    @Override
    public List<Reach> reaches(String candidate, Address address, List<Form> forms) {
        return forms.stream()
                .<Reach>map(form -> new Reach.Tells(candidate, "call", address.toString(), form.text("statement")))
                .distinct().toList();
    }

    @Override
    public Client<?> client(DriverOrder order) throws UnusableCall {
        return new SqlClient(order);
    }

    private interface Question<T> {
        T of(Connection connection) throws SQLException;
    }

    /** Asks on a connection of its own, within the time that a call has. */
    private static <T> T asked(DriverOrder order, Question<T> question) throws IOException, UnusableCall {
        String address = order.address().toString();
        try {
            return SqlDeadline.within(order.timeout(), () -> {
                try (Connection connection = Databases.connect(address, order.access().setting("user"),
                        order.access().setting("password"), order.secrets(), CountedSockets.properties(address))) {
                    return question.of(connection);
                }
            });
        } catch (SQLException cause) {
            throw new IOException(order.secrets().mask(String.valueOf(cause.getMessage())), cause);
        }
    }

    @Override
    public String probe(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        String ready = questions.ready();
        return asked(order, connection -> {
            // the usual one is a path of HTTP
            if (!ready.isBlank() && !ready.equals(Candidate.USUAL_READY)) {
                try (var statement = connection.createStatement()) {
                    statement.execute(ready);
                }
            }
            return "";
        });
    }

    @Override
    public String ask(DriverOrder order, String words) throws IOException, UnusableCall {
        return asked(order, connection -> {
            try (var statement = connection.createStatement()) {
                return Databases.lines(statement, words);
            }
        });
    }

    @Override
    public Map<String, String> fingerprint(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        return asked(order, connection -> {
            Map<String, String> found = new LinkedHashMap<>();
            DatabaseMetaData about = connection.getMetaData();
            found.put("server", about.getDatabaseProductName() + " " + about.getDatabaseProductVersion());
            found.put("driver", about.getDriverName() + " " + about.getDriverVersion());
            found.put("isolation", isolation(connection.getTransactionIsolation()));
            return found;
        });
    }

    static int isolation(String word) {
        return switch (word) {
            case "read-uncommitted" -> Connection.TRANSACTION_READ_UNCOMMITTED;
            case "read-committed" -> Connection.TRANSACTION_READ_COMMITTED;
            case "repeatable-read" -> Connection.TRANSACTION_REPEATABLE_READ;
            case "serializable" -> Connection.TRANSACTION_SERIALIZABLE;
            default -> Connection.TRANSACTION_NONE;
        };
    }

    private static String isolation(int level) {
        return switch (level) {
            case Connection.TRANSACTION_READ_UNCOMMITTED -> "read-uncommitted";
            case Connection.TRANSACTION_READ_COMMITTED -> "read-committed";
            case Connection.TRANSACTION_REPEATABLE_READ -> "repeatable-read";
            case Connection.TRANSACTION_SERIALIZABLE -> "serializable";
            default -> "none";
        };
    }
}
