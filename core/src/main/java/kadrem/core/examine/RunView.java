package kadrem.core.examine;

import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Latency;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.Phase;
import kadrem.core.measure.Recorded;
import kadrem.core.measure.SecondSummary;
import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.Histogram;

/**
 * A run under a selection; one file, since what is counted and what is shown of it are put together in one pass. Figures count what was
 * due in the measured part and inside the selected time; the course over time ({@link #seconds()}, {@link #density()}) shows the whole
 * run, warm-up and wind-down too, so that a time can be chosen in it.
 */
public final class RunView {
    private final Map<String, CallView> calls;
    private final CallView total = new CallView("all calls");
    private final List<SecondSummary> seconds;
    private final int step;
    private final Density density;
    private final Histogram connect;
    private final Histogram handshake;
    private final ConnectionView connections;
    private final Map<String, List<SizeView>> sizes;
    private final int measuredFrom;
    private final int measuredTo;

    private RunView(Builder from) {
        step = from.step;
        calls = from.calls;
        calls.values().forEach(total::add);
        density = from.density;
        var summaries = new ArrayList<SecondSummary>();
        from.seconds.forEach((second, sums) -> summaries.add(sums.summary(second)));
        seconds = List.copyOf(summaries);
        connect = from.connect;
        handshake = from.handshake;
        connections = new ConnectionView(from.open, from.resumed, from.carried, from.busiest);
        sizes = from.sizes;
        measuredFrom = from.measuredFrom;
        measuredTo = from.measuredTo;
    }

    /** The calls in the order in which they first occur. */
    public List<CallView> calls() {
        return List.copyOf(calls.values());
    }

    /** Several calls together, such as those of a crowd. */
    public CallView together(String name, Collection<String> names) {
        var sum = new CallView(name);
        calls.values().stream().filter(call -> names.contains(call.name())).forEach(sum::add);
        return sum;
    }

    public CallView total() {
        return total;
    }

    /** The course of the run; each entry stands for {@link #step()} seconds and holds what was counted in them. */
    public List<SecondSummary> seconds() {
        return seconds;
    }

    /** Seconds that an entry of the course and a column of the density stand for. */
    public int step() {
        return step;
    }

    public Density density() {
        return density;
    }

    /** Times in which connections were made during the chosen time, in nanoseconds, of all phases; not to be changed. */
    public Histogram connect() {
        return connect;
    }

    /** Times in which TLS was agreed upon. */
    public Histogram handshake() {
        return handshake;
    }

    /** The connections over the whole run, whatever is selected. */
    public ConnectionView connections() {
        return connections;
    }

    /** The sizes of a call's answers over the whole run, in the order of time. */
    public List<SizeView> sizes(String call) {
        return List.copyOf(sizes.getOrDefault(call, List.of()));
    }

    /** Seconds that the figures count: those of the selection in which something was due in the measured part. */
    public int countedSeconds() {
        return Math.max(0, measuredTo - measuredFrom);
    }

    /** First second in which something was due in the measured part, inside the selection. */
    public int measuredFrom() {
        return Math.min(measuredFrom, measuredTo);
    }

    /** Good calls a second over the time that counts. */
    public double throughput() {
        return countedSeconds() == 0 ? 0 : (double) total.good() / countedSeconds();
    }

    /** Takes what a run's files say, counts first and then response times in order of time. One thread. */
    public static final class Builder {
        private final Selection selection;
        private final int step;
        private final Map<String, CallView> calls = new LinkedHashMap<>();
        private final Map<Integer, Sums> seconds = new TreeMap<>();
        private final Density density = new Density();
        private final List<ConnectionView.Open> open = new ArrayList<>();
        private final Map<String, List<SizeView>> sizes = new LinkedHashMap<>();
        private long resumed;
        private long carried;
        private long busiest;
        private int measuredFrom = Integer.MAX_VALUE;
        private int measuredTo;
        /** Response times of the second under way; a histogram for each second of a long run would not fit into memory. */
        private final Histogram underWay = Latency.growing();
        private int secondUnderWay = -1;
        private boolean together;
        private final Histogram connect = Latency.growing();
        private final Histogram handshake = Latency.growing();

        /** A run seen second by second. */
        public Builder(Selection selection) {
            this(selection, 1);
        }

        /** @param step seconds that one entry stands for: of a long run minutes are looked at */
        public Builder(Selection selection, int step) {
            this.selection = selection;
            this.step = step;
        }

        private Sums at(int second) {
            return seconds.computeIfAbsent(second, _ -> new Sums());
        }

        private boolean counts(int second, Phase phase) {
            return phase == Phase.MEASURED && selection.has(second);
        }

        /** Response times of a call in a second. */
        public void response(int second, Phase phase, String call, AbstractHistogram histogram) {
            if (selection.has(call)) {
                Recorded times = Recorded.of(histogram);
                if (!together) {
                    times.addTo(underWay(second));
                }
                Sums sums = at(second);
                sums.answered += times.total();
                sums.responseSum += times.sum();
                if (counts(second, phase)) {
                    times.addTo(view(call).response());
                }
            }
        }

        /**
         * Response times of all calls of a step; from the first time on the course follows them and not the single calls.
         * Only for a selection that leaves no call out.
         */
        public void together(int second, AbstractHistogram histogram) {
            together = true;
            Recorded.of(histogram).addTo(underWay(second));
        }

        private Histogram underWay(int second) {
            if (second != secondUnderWay) {
                closeSecond();
                secondUnderWay = second;
            }
            return underWay;
        }

        /** Service times of a call in a second. */
        public void service(int second, Phase phase, String call, AbstractHistogram histogram) {
            if (selection.has(call)) {
                Recorded times = Recorded.of(histogram);
                at(second).serviceSum += times.sum();
                if (counts(second, phase)) {
                    times.addTo(view(call).service());
                }
            }
        }

        /** Times from sending a call to the first part of its answer, or from part to part, in a second. */
        public void parts(int second, Phase phase, String call, boolean gaps, AbstractHistogram histogram) {
            if (selection.has(call) && counts(second, phase)) {
                CallView view = view(call);
                Recorded.of(histogram).addTo(gaps ? view.gap() : view.first());
            }
        }

        /**
         * What a call came to in some seconds.
         *
         * @param second the first of them
         * @param length how many they are
         */
        public void counts(int second, int length, Phase phase, String call, CallView.Counts all) {
            if (selection.has(call)) {
                CallView.Counts counts = all.without(selection.withoutKinds());
                at(second / step * step).add(counts);
                size(second, call, counts);
                if (counts(second, phase)) {
                    view(call).add(counts);
                    if (all.sent() > 0) {
                        measuredFrom = Math.min(measuredFrom, second);
                        measuredTo = Math.max(measuredTo, second + length);
                    }
                }
            }
        }

        private void size(int second, String call, CallView.Counts counts) {
            List<SizeView> course = sizes.computeIfAbsent(call, _ -> new ArrayList<>());
            SizeView more = new SizeView(second, counts.answered(), counts.traits().answeredBytes());
            if (!course.isEmpty() && course.getLast().second() == second) {
                SizeView before = course.removeLast();
                more = new SizeView(second, before.answered() + more.answered(), before.bytes() + more.bytes());
            }
            course.add(more);
        }

        /**
         * The connections at the end of some seconds.
         *
         * @param resumedThen handshakes of these seconds that resumed a TLS session
         * @param carriedSoFar answers over all connections since the start
         * @param busiestSoFar answers over the connection that has carried most
         */
        public void connections(int second, long openThen, long resumedThen, long carriedSoFar, long busiestSoFar) {
            open.add(new ConnectionView.Open(second, openThen));
            resumed += resumedThen;
            carried = Math.max(carried, carriedSoFar);
            busiest = Math.max(busiest, busiestSoFar);
        }

        /** What holds for all calls of a second together. */
        public void whole(int second, long intended, long busy, long backlog) {
            Sums sums = at(second);
            sums.intended = intended;
            sums.busy = busy;
            sums.backlog = backlog;
        }

        /** Times in which connections were made, TCP and TLS apart, in some seconds of any phase. */
        public void connects(int second, boolean tls, AbstractHistogram histogram) {
            if (selection.has(second)) {
                Recorded.of(histogram).addTo(tls ? handshake : connect);
            }
        }

        /** Response times of a call in a second as they were, the generator's part in them. */
        public void raw(int second, Phase phase, String call, AbstractHistogram histogram) {
            if (selection.has(call) && counts(second, phase)) {
                Recorded.of(histogram).addTo(view(call).raw());
            }
        }

        /** The generator's part of a call's response times in a second. */
        public void latePart(int second, Phase phase, String call, AbstractHistogram histogram) {
            if (selection.has(call)) {
                Recorded times = Recorded.of(histogram);
                at(second).lateSum += times.sum();
                if (counts(second, phase)) {
                    times.addTo(view(call).late());
                }
            }
        }

        /** The 99th percentile of the generator's delay in a second, ns. */
        public void late(int second, long p99) {
            at(second).late = p99;
        }

        private CallView view(String call) {
            return calls.computeIfAbsent(call, CallView::new);
        }

        private void closeSecond() {
            if (underWay.getTotalCount() > 0) {
                Sums sums = at(secondUnderWay);
                long lacking = SecondSummary.lacking(sums.failed);
                sums.p50 = LatencySummary.at(underWay, lacking, 0.5);
                sums.p95 = LatencySummary.at(underWay, lacking, 0.95);
                sums.p99 = LatencySummary.at(underWay, lacking, 0.99);
                density.add(secondUnderWay / step, underWay);
                underWay.reset();
            }
        }

        public RunView build() {
            closeSecond();
            return new RunView(this);
        }
    }

    /** Figures of one second. */
    private static final class Sums {
        private final Map<FailureKind, Long> failed = new EnumMap<>(FailureKind.class);
        private long p50;
        private long p95;
        private long p99;
        private long intended;
        private long sent;
        private long good;
        private long busy;
        private long backlog;
        private long late;
        private long answered;
        private double responseSum;
        private double serviceSum;
        private double lateSum;

        void add(CallView.Counts counts) {
            sent += counts.sent();
            good += counts.good();
            counts.failed().forEach((kind, count) -> failed.merge(kind, count, Long::sum));
        }

        SecondSummary summary(int second) {
            if (p99 == 0 && SecondSummary.lacking(failed) > 0) {
                p50 = LatencySummary.NEVER;
                p95 = LatencySummary.NEVER;
                p99 = LatencySummary.NEVER;
            }
            return new SecondSummary(second, intended, sent, good, failed, p50, p95, p99, late, busy, backlog,
                    SecondSummary.Parts.of(answered, responseSum, serviceSum, lateSum));
        }
    }
}
