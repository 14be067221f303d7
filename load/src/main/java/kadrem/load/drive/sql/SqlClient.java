package kadrem.load.drive.sql;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Call;
import kadrem.core.study.Visit;
import kadrem.load.drive.AnswerRoom;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Databases;
import kadrem.load.drive.DriverOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.UserDrivers;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import org.jspecify.annotations.Nullable;

/** The statements of a workload, for one database. */
final class SqlClient implements Client<List<Object>> {
    private final DriverOrder order;
    private final List<SqlStatement> statements = new ArrayList<>();
    private final SqlSettings settings;
    private final @Nullable HikariDataSource pool;

    SqlClient(DriverOrder order) throws UnusableCall {
        this.order = order;
        for (Call call : order.workload().calls()) {
            statements.add(SqlStatement.of(call, order));
        }
        settings = SqlSettings.of(order, lastCalls(order));
        pool = settings.pool() > 0 ? pool(order, settings.pool()) : null;
    }

    /** Numbers of the calls with which a pass of a visit ends. */
    private static Set<Integer> lastCalls(DriverOrder order) {
        var last = new HashSet<Integer>();
        int number = order.workload().first().size() - 1;
        if (number >= 0) {
            last.add(number);
        }
        for (Visit visit : order.workload().visits()) {
            number += visit.calls().size();
            last.add(number);
        }
        return last;
    }

    private static HikariDataSource pool(DriverOrder order, int connections) throws UnusableCall {
        var config = new HikariConfig();
        config.setJdbcUrl(order.address().toString());
        if (!order.access().setting("user").isEmpty()) {
            config.setUsername(order.access().setting("user"));
        }
        if (!order.access().setting("password").isEmpty()) {
            config.setPassword(order.secrets().fill(order.access().setting("password")));
        }
        CountedSockets.properties(order.address().toString(), AnswerRoom.share(order.users()))
                .forEach(config::addDataSourceProperty);
        config.setMaximumPoolSize(connections);
        config.setMinimumIdle(connections);
        config.setConnectionTimeout(Math.max(250, order.timeout().toMillis()));
        // users connect by themselves, and tell what is wrong
        config.setInitializationFailTimeout(-1);
        Thread thread = Thread.currentThread();
        ClassLoader before = thread.getContextClassLoader();
        // the pool looks for the driver by the thread's loader
        thread.setContextClassLoader(UserDrivers.loader());
        try {
            config.setDriverClassName(Databases.driver(order.address().toString()).getClass().getName());
            return new HikariDataSource(config);
        } catch (SQLException cause) {
            throw new UnusableCall(String.valueOf(cause.getMessage()));
        } finally {
            thread.setContextClassLoader(before);
        }
    }

    @Override
    public List<Object> ready(int call, CallValues values) {
        return statements.get(call).values(values);
    }

    @Override
    public String shown(int call, CallValues values) {
        return statements.get(call).shown(values);
    }

    @Override
    public Client.UserConnection<List<Object>> connect() throws CallFailure {
        if (pool != null) {
            return new SqlConnection(statements, settings, this::fromPool, order.secrets(), false);
        }
        var own = new SqlConnection(statements, settings, this::own, order.secrets(), true);
        own.take();
        return own;
    }

    private Connection own() throws CallFailure {
        try {
            return Databases.connect(order.address().toString(), order.access().setting("user"),
                    order.access().setting("password"), order.secrets(),
                    CountedSockets.properties(order.address().toString(), settings.room()));
        } catch (UnusableCall cause) {
            throw new CallFailure(FailureKind.NO_CONNECTION, 0, String.valueOf(cause.getMessage()));
        } catch (SQLException cause) {
            throw SqlState.failure(cause, true, order.secrets());
        }
    }

    private Connection fromPool() throws CallFailure {
        HikariDataSource source = pool;
        try {
            return source == null ? own() : source.getConnection();
        } catch (SQLException cause) {
            throw SqlState.failure(cause.getCause() instanceof SQLException inner ? inner : cause, true,
                    order.secrets());
        }
    }

    @Override
    public String statusWord(int status) {
        return SqlState.word(status);
    }

    @Override
    public void close() {
        if (pool != null) {
            pool.close();
        }
    }
}
