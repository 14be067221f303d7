package kadrem.core.examine;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.SecondSummary;
import kadrem.core.plan.Curve;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Wire;
import kadrem.core.study.Written;

/** Signatures that show in the course of a run over its seconds. The bounds are common practice, no source. */
final class CourseSignatures {
    private static final long NOTICEABLE = 20_000_000;
    private static final int MIN_SECONDS = 8;
    private static final int MIN_PAUSES = 4;
    private static final int MIN_SIDE = 3;
    private static final int MIN_ERRORS = 10;
    private static final double MOST = 0.8;
    /** Of a load with one level: open connections among those asked for, from which on none are lacking. */
    private static final double NEARLY_ALL = 0.9;
    /** What a call comes to that finds no connection or loses it. */
    private static final Set<FailureKind> OF_CONNECTIONS = Set.of(FailureKind.REFUSED, FailureKind.NO_CONNECTION,
            FailureKind.RESET, FailureKind.CLOSED, FailureKind.TIMEOUT);

    private CourseSignatures() {
    }

    static double answers(List<SizeView> course) {
        return course.stream().mapToLong(SizeView::answered).sum();
    }

    static double perAnswer(List<SizeView> course) {
        return course.stream().mapToLong(SizeView::bytes).sum() / answers(course);
    }

    private static List<SecondSummary> measured(RunView run) {
        int from = run.measuredFrom();
        int to = from + run.countedSeconds();
        return run.seconds().stream().filter(one -> one.second() >= from && one.second() < to).toList();
    }

    // ---- pauses ---------------------------------------------------------------------------------------------------

    /** Seconds in which the slowest calls are far slower than usual, at equal distances over the whole measured part. */
    static Optional<Signature> pauses(RunView run) {
        List<SecondSummary> seconds = measured(run);
        if (run.step() > 1 || seconds.size() < MIN_SECONDS) {
            return Optional.empty();
        }
        long[] tails = seconds.stream().mapToLong(SecondSummary::p99).sorted().toArray();
        // with short beats up to half of the seconds have a pause in them
        long usual = tails[tails.length / 4];
        if (usual == LatencySummary.NEVER) {
            return Optional.empty();
        }
        List<SecondSummary> slow = seconds.stream()
                .filter(one -> one.p99() != LatencySummary.NEVER && one.p99() >= 3 * usual
                        && one.p99() - usual >= NOTICEABLE && one.lateP99() < one.p99() / 4)
                .toList();
        long longest = slow.stream().mapToLong(SecondSummary::p99).max().orElse(0);
        List<Integer> begins = new ArrayList<>();
        int before = Integer.MIN_VALUE / 2;
        for (SecondSummary one : slow) {
            // what comes back is about as long each time
            if (one.p99() >= longest / 4) {
                if (one.second() > before + 1) {
                    begins.add(one.second());
                }
                before = one.second();
            }
        }
        String most = Written.duration(longest);
        return period(begins, seconds.getFirst().second(), seconds.getLast().second())
                .map(every -> new Signature(Signature.Kind.PAUSES, String.format(Locale.ROOT,
                        "Each %s seconds calls wait up to %s, %d times in %d seconds; the usual p99 of a second is %s",
                        Written.significant(every), most, begins.size(),
                        seconds.size(), Written.duration(usual))));
    }

    private static Optional<Double> period(List<Integer> begins, int from, int to) {
        int count = begins.size();
        if (count < MIN_PAUSES) {
            return Optional.empty();
        }
        double every = (double) (begins.getLast() - begins.getFirst()) / (count - 1);
        // a second is counted whole, so that a beat may lie half of one beside its place, and a little more with many of them
        double room = count == MIN_PAUSES ? 0.51 : 0.8;
        for (int i = 0; i < count; i++) {
            if (Math.abs(begins.get(i) - begins.getFirst() - i * every) > room) {
                return Optional.empty();
            }
        }
        boolean throughout = begins.getFirst() - from <= every + 1 && to - begins.getLast() <= every + 1;
        return every >= 1.9 && throughout ? Optional.of(Math.round(every * 10) / 10.0) : Optional.empty();
    }

    // ---- a limit of connections -----------------------------------------------------------------------------------

    /** Errors that begin at a number of connections, or connections that are never as many as were asked for. */
    static Optional<Signature> limit(RunView run, LoadProfile load, Wire wire) {
        if (!run.connections().isKnown() || wire.reuse() != Wire.Reuse.KEEP) {
            return Optional.empty();
        }
        Curve wanted = Curve.of(load);
        boolean users = load instanceof LoadProfile.Closed;
        List<Second> seconds = new ArrayList<>();
        for (ConnectionView.Open open : run.connections().seconds()) {
            run.seconds().stream().filter(one -> one.second() == open.second() && one.sent() > 0).findFirst()
                    .ifPresent(one -> seconds.add(new Second(
                            users ? Math.round(wanted.at(one.second() + 0.5) / wire.depth()) : open.open(), errors(one),
                            one.second())));
        }
        int asked = (load.connections() + wire.depth() - 1) / wire.depth();
        return load.shape().isFlat() ? tooFew(asked, run) : rising(seconds);
    }

    /** @param connections that users wanted, or that were open where the load does not say how many there are to be */
    private record Second(long connections, long errors, int at) {
    }

    private static long errors(SecondSummary second) {
        return second.failed().entrySet().stream()
                .filter(one -> OF_CONNECTIONS.contains(one.getKey())
                        || one.getKey() == FailureKind.UNEXPECTED_STATUS)
                .mapToLong(java.util.Map.Entry::getValue).sum();
    }

    private static Optional<Signature> tooFew(int asked, RunView run) {
        List<SecondSummary> seconds = measured(run);
        int from = run.measuredFrom();
        long[] open = run.connections().seconds().stream()
                .filter(one -> one.second() >= from && one.second() < from + run.countedSeconds())
                .mapToLong(ConnectionView.Open::open).sorted().toArray();
        long bad = seconds.stream().filter(one -> errors(one) > 0).count();
        long errors = seconds.stream().mapToLong(CourseSignatures::errors).sum();
        if (open.length < MIN_SIDE || asked < 2 || errors < MIN_ERRORS || bad < MOST * seconds.size()) {
            return Optional.empty();
        }
        long usual = open[open.length / 2];
        return open[(open.length - 1) * 9 / 10] <= NEARLY_ALL * asked && usual > 0
                ? Optional.of(new Signature(Signature.Kind.ERRORS_FROM_CONNECTIONS, String.format(Locale.ROOT,
                        "About %d connections were open and never the %d that the load asks for; calls on the others failed (%,d)",
                        usual, asked, errors)))
                : Optional.empty();
    }

    private static Optional<Signature> rising(List<Second> seconds) {
        long[] bad = seconds.stream().filter(one -> one.errors() > 0).mapToLong(Second::connections).sorted().toArray();
        if (bad.length < MIN_SIDE || seconds.stream().mapToLong(Second::errors).sum() < MIN_ERRORS) {
            return Optional.empty();
        }
        long begins = Arrays.stream(bad).min().orElseThrow();
        long below = seconds.stream().filter(one -> one.connections() < begins && one.connections() > 0).count();
        long above = seconds.stream().filter(one -> one.connections() >= begins).count();
        return below >= MIN_SIDE && bad.length >= MOST * above
                ? Optional.of(new Signature(Signature.Kind.ERRORS_FROM_CONNECTIONS, String.format(Locale.ROOT,
                        "With fewer than %d connections no call failed, and from there on some did in nearly each second",
                        begins)))
                : Optional.empty();
    }
}
