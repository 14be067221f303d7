package kadrem.core.plan;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

import kadrem.core.random.SplitMix64;
import kadrem.core.study.Crowd;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.jspecify.annotations.Nullable;

/**
 * What users do, fixed by one seed: which visit comes n-th, which rows of the value lists it draws, how long its user
 * pauses. Any visit can be asked for in any order, by any thread; nothing is allocated.
 */
public final class LoadStream {
    private static final long CALL_PURPOSE = 0x63616c6cL;
    private static final long THINK_PURPOSE = 0x7468696e6bL;

    private final long seed;
    private final long users;
    private final long identities;
    private final long before;
    private final boolean inTurn;
    private final double[] upTo;
    private final ListDraw[] lists;
    private final boolean anyPerCall;
    private final @Nullable Recorded recorded;

    /** @param users users of the closed model; 0 in the open model, where each arrival is then a user of its own */
    public LoadStream(Workload workload, long users, long seed) {
        this(workload, users, Long.MAX_VALUE, 0, seed, null);
    }

    /**
     * @param identities of the open model: arrival k is a visit of user k modulo this
     * @param before users of other crowds, who have the first rows of lists of which each user has a row
     * @param recorded arrivals that say themselves what they do
     */
    private LoadStream(Workload workload, long users, long identities, long before, long seed,
            @Nullable Recorded recorded) {
        this.recorded = recorded;
        this.before = before;
        this.seed = seed;
        this.users = users;
        this.identities = identities;
        inTurn = workload.choice() == Workload.Choice.IN_TURN;
        List<Visit> visits = workload.visits();
        double total = visits.stream().mapToDouble(Visit::share).sum();
        upTo = new double[visits.size()];
        double sum = 0;
        for (int i = 0; i < upTo.length; i++) {
            sum += visits.get(i).share();
            upTo[i] = sum / total;
        }
        lists = workload.values().stream().map(ListDraw::of).toArray(ListDraw[]::new);
        anyPerCall = workload.values().stream().anyMatch(list -> list.draw().keep() == ValueList.Keep.CALL);
    }

    /**
     * The stream of one crowd.
     *
     * @param workload that the crowd makes
     * @param before users of the crowds before it
     * @param recorded the arrivals, where they follow a timeline
     */
    public static LoadStream of(Workload workload, LoadProfile.Single load, long before, long seed,
            Optional<Recorded> recorded) {
        return switch (load) {
            case LoadProfile.Closed closed -> new LoadStream(workload, closed.users(), Long.MAX_VALUE, before, seed,
                    null);
            case LoadProfile.Open open -> new LoadStream(workload, 0, Math.max(1, open.connections()), before, seed,
                    recorded.orElse(null));
        };
    }

    /** The stream of {@code workload} under {@code load}, of which no timeline tells what arrivals do. */
    public static LoadStream of(Workload workload, LoadProfile.Single load, long seed) {
        return of(workload, load, 0, seed, Optional.empty());
    }

    /** The seed of a crowd's stream: the run's own where the study has no crowds. */
    public static long seed(long ofRun, Crowd crowd) {
        long name = StreamHash.START;
        for (byte letter : crowd.name().getBytes(StandardCharsets.UTF_8)) {
            name = StreamHash.with(name, letter);
        }
        return crowd.isEveryone() ? ofRun : SplitMix64.mix(ofRun ^ name);
    }

    /** A draw with room for this stream's value lists. */
    public Draw newDraw() {
        return new Draw(new long[lists.length]);
    }

    /**
     * Fills {@code into} with visit number {@code index} of user {@code user}. In the open model there is one user, 0.
     */
    public void draw(long user, long index, Draw into) {
        long state = SplitMix64.mix(SplitMix64.mix(seed + user * SplitMix64.GAMMA) + index);
        into.start = state;
        into.call = 0;
        state += SplitMix64.GAMMA;
        double at = SplitMix64.unit(SplitMix64.mix(state));
        int visit = 0;
        if (inTurn) {
            visit = (int) ((user + index) % upTo.length);
        } else {
            while (visit < upTo.length - 1 && at >= upTo[visit]) {
                visit++;
            }
        }
        into.visit = visit;
        long turn = users == 0 ? index : user + index * users;
        long own = before + (users == 0 ? index % identities : user);
        for (int i = 0; i < lists.length; i++) {
            state += SplitMix64.GAMMA;
            into.rows[i] = lists[i].row(SplitMix64.mix(state), turn, own);
        }
        if (recorded != null) {
            follow(recorded, index, into);
        }
    }

    /** What was recorded of an arrival stands in the place of what was drawn. */
    private static void follow(Recorded recorded, long index, Draw into) {
        long visit = recorded.visit(index);
        into.visit = visit == Instants.DRAWN ? into.visit : (int) visit;
        for (int i = 0; i < into.rows.length; i++) {
            long row = recorded.row(i, index);
            into.rows[i] = row == Instants.DRAWN ? into.rows[i] : row;
        }
    }

    /** Draws the rows of lists that are drawn anew for each call. */
    public void drawCall(int callOfVisit, Draw into) {
        into.call = callOfVisit;
        if (!anyPerCall) {
            return;
        }
        long state = SplitMix64.mix(into.start ^ CALL_PURPOSE) + callOfVisit;
        for (int i = 0; i < lists.length; i++) {
            if (lists[i].perCall) {
                into.rows[i] = lists[i].row(SplitMix64.mix(SplitMix64.mix(state) + i), 0, 0);
            }
        }
    }

    /** The pause after call {@code callOfVisit} of the drawn visit, in nanoseconds. */
    public long thinkNanos(ThinkTime thinkTime, int callOfVisit, Draw drawn) {
        return thinkTime.nanos(SplitMix64.unit(
                SplitMix64.mix(SplitMix64.mix(drawn.start ^ THINK_PURPOSE) + callOfVisit)));
    }

    /** One drawn visit: its number in the workload and the row drawn from each value list. Reused, so not shared. */
    public static final class Draw {
        private final long[] rows;
        private int visit;
        private int call;
        private long start;

        private Draw(long[] rows) {
            this.rows = rows;
        }

        public int visit() {
            return visit;
        }

        /** A number that every call of the stream has for itself, for another purpose than its values. */
        public long identity(long purpose) {
            return SplitMix64.mix(SplitMix64.mix(start ^ purpose) + call);
        }

        public long row(int list) {
            return rows[list];
        }

        public int lists() {
            return rows.length;
        }
    }

    /** How rows of one list are drawn. */
    private static final class ListDraw {
        private final ValueList.Order order;
        private final boolean perCall;
        private final long size;
        /** Share of all draws that falls on the rows up to each; empty where all rows are alike. */
        private final double[] cumulative;

        private ListDraw(ValueList list, double[] cumulative) {
            order = list.draw().order();
            perCall = list.draw().keep() == ValueList.Keep.CALL;
            size = list.size();
            this.cumulative = cumulative;
        }

        static ListDraw of(ValueList list) {
            return new ListDraw(list, list instanceof ValueList.Zipf zipf
                    ? zipf((int) zipf.size(), zipf.exponent())
                    : new double[0]);
        }

        private static double[] zipf(int size, double exponent) {
            var cumulative = new double[size];
            double sum = 0;
            for (int i = 0; i < size; i++) {
                sum += Math.pow(i + 1.0, -exponent);
                cumulative[i] = sum;
            }
            for (int i = 0; i < size; i++) {
                cumulative[i] /= sum;
            }
            return cumulative;
        }

        long row(long bits, long turn, long own) {
            return switch (order) {
                case RANDOM -> random(bits);
                case SEQUENTIAL -> turn % size;
                case PER_USER -> own % size;
            };
        }

        private long random(long bits) {
            if (cumulative.length > 0) {
                int at = java.util.Arrays.binarySearch(cumulative, SplitMix64.unit(bits));
                return Math.min(cumulative.length - 1, at < 0 ? -at - 1 : at + 1);
            }
            return size == Long.MAX_VALUE ? bits : SplitMix64.below(bits, size);
        }
    }
}
