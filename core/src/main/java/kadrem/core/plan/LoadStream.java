package kadrem.core.plan;

import java.util.List;

import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;

/**
 * What users do, fixed by one seed: which visit comes n-th and which rows of the value lists it draws. Any visit can be
 * asked for in any order, by any thread; nothing is allocated.
 */
public final class LoadStream {
    private final long seed;
    private final double[] upTo;
    private final long[] listSizes;

    public LoadStream(Workload workload, long seed) {
        this.seed = seed;
        List<Visit> visits = workload.visits();
        double total = visits.stream().mapToDouble(Visit::share).sum();
        upTo = new double[visits.size()];
        double sum = 0;
        for (int i = 0; i < upTo.length; i++) {
            sum += visits.get(i).share();
            upTo[i] = sum / total;
        }
        listSizes = workload.values().stream().mapToLong(ValueList::size).toArray();
    }

    /** A draw with room for this stream's value lists. */
    public Draw newDraw() {
        return new Draw(new long[listSizes.length]);
    }

    /**
     * Fills {@code into} with visit number {@code index} of user {@code user}. In the open model there is one user, 0.
     */
    public void draw(long user, long index, Draw into) {
        long state = SplitMix64.mix(SplitMix64.mix(seed + user * SplitMix64.GAMMA) + index);
        state += SplitMix64.GAMMA;
        double at = SplitMix64.unit(SplitMix64.mix(state));
        int visit = 0;
        while (visit < upTo.length - 1 && at >= upTo[visit]) {
            visit++;
        }
        into.visit = visit;
        for (int i = 0; i < listSizes.length; i++) {
            state += SplitMix64.GAMMA;
            into.rows[i] = SplitMix64.below(SplitMix64.mix(state), listSizes[i]);
        }
    }

    /** One drawn visit: its number in the workload and the row drawn from each value list. Reused, so not shared. */
    public static final class Draw {
        private final long[] rows;
        private int visit;

        private Draw(long[] rows) {
            this.rows = rows;
        }

        public int visit() {
            return visit;
        }

        public long row(int list) {
            return rows[list];
        }

        public int lists() {
            return rows.length;
        }
    }
}
