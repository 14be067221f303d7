package kadrem.core.measure;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;

import org.HdrHistogram.Histogram;

/**
 * Adds the seconds and host samples of a run up to its {@link RunFigures}. Its size does not grow with the run. One
 * thread.
 */
public final class RunTotals {
    private final List<String> callNames;
    private final int warmUpSeconds;
    private final int measuredSeconds;
    private final CallTotal[] calls;
    private final Histogram late = Latency.forRun();
    private final LongTurns longTurns = new LongTurns();
    private long ownFaults;
    private final Histogram connect = Latency.forRun();
    private final Histogram handshake = Latency.forRun();
    private Map<String, int[]> crowds = Map.of();
    private Set<String> looksAt = Set.of();
    private long lastBacklog;
    private double cpuAtStart = Double.NaN;
    private double cpuAtEnd = Double.NaN;
    private double laneCpuAtStart = Double.NaN;
    private double laneCpuAtEnd = Double.NaN;
    private double userCpuAtStart = Double.NaN;
    private double userCpuAtEnd = Double.NaN;
    private double gcAtStart = Double.NaN;
    private double gcAtEnd = Double.NaN;
    private double stealSum;
    private double otherSum;
    private int hostSamples;
    private int otherSamples;
    private double busyNanos;
    private double workNanos;
    private int busySeconds;
    private final SteadyState steady;
    private long boundNanos;
    private long peakMemory = -1;
    private @org.jspecify.annotations.Nullable HostSample last;

    public RunTotals(List<String> callNames, int warmUpSeconds, int measuredSeconds) {
        this.callNames = List.copyOf(callNames);
        this.warmUpSeconds = warmUpSeconds;
        this.measuredSeconds = measuredSeconds;
        steady = new SteadyState(warmUpSeconds);
        calls = new CallTotal[callNames.size()];
        for (int i = 0; i < calls.length; i++) {
            calls[i] = new CallTotal();
        }
    }

    /** What a call without a good answer counts for in means, at the least: the time limit of the load. */
    public RunTotals bounded(Duration timeout) {
        boundNanos = timeout.toNanos();
        return this;
    }

    /**
     * Whose figures are told beside those of calls, and of which calls the distribution is kept.
     *
     * @param numbers of the calls of each crowd, by its name; a call that several make is none of theirs
     * @param judged names of calls that a requirement is on
     */
    public RunTotals parts(Map<String, int[]> numbers, Set<String> judged) {
        crowds = new LinkedHashMap<>(numbers);
        looksAt = Set.copyOf(judged);
        return this;
    }

    public void add(SecondTally tally) {
        boolean inTime = tally.second >= warmUpSeconds && tally.second < warmUpSeconds + measuredSeconds;
        for (int i = 0; i < calls.length; i++) {
            CallTally measured = tally.call(i, Phase.MEASURED);
            calls[i].add(measured);
            if (inTime) {
                calls[i].goodInTime += measured.good + tally.call(i, Phase.WARM_UP).good
                        + tally.call(i, Phase.WIND_DOWN).good;
            }
        }
        late.add(tally.late);
        ownFaults += tally.ownFaults;
        connect.add(tally.connect);
        handshake.add(tally.handshake);
        lastBacklog = tally.backlog;
        if (tally.second < warmUpSeconds + measuredSeconds) {
            steady.add(tally.second, responseSum(tally), good(tally));
        }
        if (inTime) {
            busyNanos += tally.busyNanos;
            workNanos += tally.workNanos;
            busySeconds++;
            longTurns.add(tally.longTurns);
        }
    }

    private double responseSum(SecondTally tally) {
        double sum = 0;
        for (int i = 0; i < calls.length; i++) {
            for (Phase phase : Phase.values()) {
                sum += tally.call(i, phase).responseSum;
            }
        }
        return sum;
    }

    private double good(SecondTally tally) {
        double good = 0;
        for (int i = 0; i < calls.length; i++) {
            for (Phase phase : Phase.values()) {
                good += tally.call(i, phase).good;
            }
        }
        return good;
    }

    /** Samples come in the order of time. CPU at the borders of the measured part is interpolated between two of them. */
    public void add(HostSample sample) {
        HostSample before = last;
        if (before != null && sample.candidateCpuMillis() >= 0 && before.candidateCpuMillis() >= 0) {
            cpuAtStart = at(warmUpSeconds, before, sample, before.candidateCpuMillis(), sample.candidateCpuMillis(),
                    cpuAtStart);
            cpuAtEnd = at(warmUpSeconds + measuredSeconds, before, sample, before.candidateCpuMillis(),
                    sample.candidateCpuMillis(), cpuAtEnd);
        }
        if (before != null) {
            laneCpuAtStart = at(warmUpSeconds, before, sample, before.laneCpuMillis(), sample.laneCpuMillis(),
                    laneCpuAtStart);
            laneCpuAtEnd = at(warmUpSeconds + measuredSeconds, before, sample, before.laneCpuMillis(),
                    sample.laneCpuMillis(), laneCpuAtEnd);
            userCpuAtStart = at(warmUpSeconds, before, sample, before.userCpuMillis(), sample.userCpuMillis(),
                    userCpuAtStart);
            userCpuAtEnd = at(warmUpSeconds + measuredSeconds, before, sample, before.userCpuMillis(),
                    sample.userCpuMillis(), userCpuAtEnd);
            gcAtStart = at(warmUpSeconds, before, sample, before.gcMillis(), sample.gcMillis(), gcAtStart);
            gcAtEnd = at(warmUpSeconds + measuredSeconds, before, sample, before.gcMillis(), sample.gcMillis(),
                    gcAtEnd);
        }
        if (sample.at() > warmUpSeconds && sample.at() < warmUpSeconds + measuredSeconds + 1) {
            stealSum += sample.hostStealShare();
            hostSamples++;
            if (before != null && sample.candidateCpuMillis() >= 0 && before.candidateCpuMillis() >= 0) {
                otherSum += otherShare(before, sample);
                otherSamples++;
            }
        }
        if (sample.at() >= warmUpSeconds) {
            peakMemory = Math.max(peakMemory, sample.candidateMemory());
        }
        last = sample;
    }

    private static double at(double second, HostSample before, HostSample after, double from, double to, double known) {
        if (second < before.at() || second > after.at() || after.at() <= before.at()) {
            return known;
        }
        return from + (to - from) * (second - before.at()) / (after.at() - before.at());
    }

    public RunFigures figures() {
        return figures(measuredSeconds);
    }

    /** @param seconds length of the measured part, where it ended before its time */
    public RunFigures figures(double seconds) {
        var perCall = new ArrayList<PartFigures>();
        var all = new CallTotal();
        for (int i = 0; i < calls.length; i++) {
            all.add(calls[i]);
            perCall.add(calls[i].figures(callNames.get(i), boundNanos, looksAt.contains(callNames.get(i))));
        }
        return new RunFigures(all.sent, all.good, all.failedByKind(), lastBacklog, seconds, all.goodInTime,
                all.bytesOut, all.bytesIn, LatencySummary.of(all.response, all.lacking(), boundNanos),
                LatencySummary.of(all.service),
                LatencySummary.of(late), known(cpuAtEnd - cpuAtStart), peakMemory < 0
                        ? OptionalDouble.empty()
                        : OptionalDouble.of(peakMemory),
                List.copyOf(perCall),
                new RunFigures.Connects(LatencySummary.of(connect), LatencySummary.of(handshake)))
                .withRaw(LatencySummary.of(all.raw, all.lacking(), boundNanos))
                .withDistribution(Distribution.of(all.response))
                .withCrowds(crowds.keySet().stream().map(this::crowd).toList());
    }

    private PartFigures crowd(String name) {
        var sum = new CallTotal();
        for (int number : crowds.getOrDefault(name, new int[0])) {
            if (crowds.values().stream().filter(one -> Arrays.stream(one).anyMatch(call -> call == number))
                    .count() == 1) {
                sum.add(calls[number]);
            }
        }
        return sum.figures(name, boundNanos, true);
    }

    /** Processor time of neither the candidate nor Kadrem between two samples, as a share of all processors'. */
    private static double otherShare(HostSample before, HostSample after) {
        double own = after.candidateCpuMillis() - before.candidateCpuMillis() + after.kadremCpuMillis()
                - before.kadremCpuMillis();
        double capacity = (after.at() - before.at()) * 1000 * after.processors();
        return capacity <= 0 ? 0 : Math.max(0, after.hostCpuShare() - after.hostStealShare() - own / capacity);
    }

    /** Turns of the lanes in the measured part that took longer than a millisecond, by cause. */
    public List<LongTurns.Of> longTurns() {
        return longTurns.all();
    }

    /** Share of the measured part that the lanes together spent in turns in which something was sent or read. */
    public OptionalDouble workShare() {
        return mean(workNanos / 1e9, busySeconds);
    }

    /** Faults of the generator's own, of the whole run. */
    public long ownFaults() {
        return ownFaults;
    }

    /** Processor time of the lanes as a share of the measured part, of all lanes together; waiting awake is among it. */
    public OptionalDouble laneCpuShare() {
        return known((laneCpuAtEnd - laneCpuAtStart) / (measuredSeconds * 1000.0));
    }

    /** What was seen of the host and over time. */
    public Soundness.Watched watched() {
        double millis = measuredSeconds * 1000.0;
        return new Soundness.Watched(workShare(),
                last == null
                        ? OptionalDouble.empty()
                        : known((userCpuAtEnd - userCpuAtStart) / millis / last.processors()),
                known((gcAtEnd - gcAtStart) / millis), mean(stealSum, hostSamples), mean(otherSum, otherSamples),
                OptionalDouble.of(steady.settledAfter()), OptionalDouble.of(steady.drift()),
                mean(busyNanos / 1e9, busySeconds));
    }

    private static OptionalDouble mean(double sum, int number) {
        return number == 0 ? OptionalDouble.empty() : OptionalDouble.of(sum / number);
    }

    private static OptionalDouble known(double value) {
        return Double.isNaN(value) ? OptionalDouble.empty() : OptionalDouble.of(value);
    }
}
