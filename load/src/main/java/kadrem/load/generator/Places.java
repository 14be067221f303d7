package kadrem.load.generator;

import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.IntConsumer;
import java.util.stream.Collectors;

import kadrem.core.study.Pacing;
import kadrem.load.host.NativeThread;

/**
 * Who runs on which processor of this host while load is made: each lane has one of its own where at least as many are left for the
 * candidate and for all other work, and the other threads of the process that makes the load, its compiler and collector, stay off
 * those. On Linux; elsewhere and on smaller hosts everybody runs where the system puts them. Thread-safe.
 */
final class Places {
    private static final String LANE = "kadrem-lane";

    private final BitSet allowed;
    private final BitSet given = new BitSet();
    /** Loads under way whose calls are made by threads that wait, and the processors of the candidates that they ask. */
    private int calling;
    private List<Integer> called = List.of();
    /** Whether threads were told to go before others. */
    private boolean raised;

    /** @param allowed processors that this process may use */
    Places(BitSet allowed) {
        this.allowed = (BitSet) allowed.clone();
    }

    static Places ofThisHost() {
        return new Places(NativeThread.allowed());
    }

    /**
     * A processor for each of {@code lanes} lanes, the last ones first; empty where there are too few.
     *
     * @param candidates processors on which candidates are kept, which are taken only where no others are left
     */
    synchronized List<Integer> take(int lanes, List<Integer> candidates) {
        if (given.cardinality() + lanes > allowed.cardinality() / 2) {
            return List.of();
        }
        List<Integer> taken = shared().stream().boxed()
                .sorted(Comparator.<Integer, Boolean>comparing(candidates::contains)
                        .thenComparing(Comparator.reverseOrder()))
                .limit(lanes).toList();
        taken.forEach(given::set);
        return taken;
    }

    /**
     * How a load of so many lanes would be made here, in words.
     *
     * @param chosen how they wait, where a study says
     * @param waitsOnThreads whether threads that wait for answers make the calls
     */
    String words(int lanes, Optional<Pacing> chosen, List<Integer> candidates, boolean waitsOnThreads) {
        List<Integer> own = take(lanes, candidates);
        giveBack(own);
        String where = own.isEmpty()
                ? "on any of the " + allowed.cardinality() + " processors that there are"
                : "on processor" + (own.size() == 1 ? " " : "s ")
                        + own.stream().map(String::valueOf).collect(Collectors.joining(", "))
                        + (waitsOnThreads
                                ? ", shared with the threads that wait for answers"
                                : ", which the rest of Kadrem leaves alone");
        return (lanes == 1 ? "1 lane" : lanes + " lanes") + " in a process of its own, "
                + chosen.orElse(pacing(lanes, !own.isEmpty())).words() + ", " + where;
    }

    /** How lanes wait that have processors of their own, or have none. */
    Pacing pacing(int lanes, boolean own) {
        return own ? Pacing.ALWAYS : Pacing.fitting(Math.max(1, allowed.cardinality()), lanes);
    }

    synchronized void giveBack(List<Integer> processors) {
        processors.forEach(given::clear);
    }

    /** The processors that are nobody's own. */
    synchronized BitSet shared() {
        var rest = (BitSet) allowed.clone();
        rest.andNot(given);
        return rest;
    }

    /**
     * Keeps all threads of this process but its lanes on the processors that are nobody's own; those they start stay there, too. While a load is
     * under way whose calls are made by threads that wait for answers, those and the ones of a database's or broker's own client run where lanes do and
     * before others as lanes do, and keep off the processors of candidates where there are others; what compiles, collects and records
     * stays where it is.
     *
     * @param compiled whether this process has made load before, so that its code is compiled
     */
    synchronized void keepOthersOff(boolean compiled) {
        boolean first = calling > 0;
        BitSet there = first ? callers(called) : shared();
        eachOther(thread -> {
            NativeThread.stayOn(thread, there);
            if (first) {
                NativeThread.goFirst(thread);
            } else if (raised) {
                NativeThread.goAsUsual(thread);
            }
        });
        raised = first;
        NativeThread.keepHelpersOn(shared());
        NativeThread.letHelpersGiveWay(compiled);
    }

    /**
     * A load whose calls are made by threads that wait begins; {@link #keepOthersOff} lets them in.
     *
     * @param candidates processors on which candidates are kept
     */
    synchronized void callersCome(List<Integer> candidates) {
        calling++;
        called = List.copyOf(candidates);
    }

    /** Such a load is over. */
    synchronized void callersLeave() {
        calling--;
    }

    /** The processors of threads that make calls. */
    synchronized BitSet callers(List<Integer> candidates) {
        var rest = (BitSet) allowed.clone();
        candidates.forEach(rest::clear);
        return rest.isEmpty() ? (BitSet) allowed.clone() : rest;
    }

    /** Each thread of this process that is no lane. */
    private static void eachOther(IntConsumer what) {
        NativeThread.all().forEach((thread, name) -> {
            if (!name.startsWith(LANE)) {
                what.accept(thread);
            }
        });
    }
}
