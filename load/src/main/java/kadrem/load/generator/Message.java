package kadrem.load.generator;

import java.util.List;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.LatencySummary;
import kadrem.load.engine.GeneratorUsage;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadResult;

/** What Kadrem and the process of the load say to each other, but for seconds, which have a form of their own. */
sealed interface Message {
    /** Number of the session that it is about. */
    int session();

    /** To the process: open the connections. {@code folder} is that of the study, to which files of secrets are relative. */
    record Prepare(int session, LoadOrder order, String folder) implements Message {
    }

    /** To the process: everything is due from this instant of the clock that both read ({@link System#nanoTime()}). */
    record Begin(int session, long startNanos) implements Message {
    }

    /** To the process: end at once. */
    record Stop(int session) implements Message {
    }

    /** To the process: how much have you used? */
    record AskUsage(int session) implements Message {
    }

    /** To the process: the session is over. */
    record Close(int session) implements Message {
    }

    /** From the process: connections are open; its lanes have these processors for themselves. */
    record Prepared(int session, String arrangement, List<Integer> processors) implements Message {
    }

    /** From the process: a call cannot be made ready. */
    record Unusable(int session, String reason) implements Message {
    }

    /** From the process: it broke down, by a fault of its own. */
    record Broken(int session, String reason) implements Message {
    }

    /** From the process: an exchange was kept. */
    record Kept(int session, Exchange exchange) implements Message {
    }

    /** From the process: what it has used. */
    record Used(int session, GeneratorUsage usage) implements Message {
    }

    /** From the process: nothing of the session is left, and its processors are free again. */
    record Closed(int session) implements Message {
    }

    /** From the process: the load has ended. */
    record Ended(int session, LoadResult result, LatencySummary collectorPauses) implements Message {
    }
}
