package kadrem.core.examine;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.ToDoubleFunction;
import java.util.stream.Collectors;

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
    private static final int MIN_PAUSES = 5;
    /** Of the strokes of a beat. */
    private static final double NEARLY_EACH = 0.85;
    /** Where more of the seconds are slow the slow ones are the usual ones. */
    private static final double MOST_MARKED = 0.6;
    /** In tenths of a second: shorter beats are not told from a noise in seconds, longer ones are seen too seldom. */
    private static final int SHORTEST_BEAT = 20;
    private static final int LONGEST_BEAT = 600;
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

    static double mean(List<SizeView> course, ToDoubleFunction<SizeView> of) {
        return course.stream().mapToDouble(of).average().orElseThrow();
    }

    /** Of the difference between the means of the seconds of both, taken as independent. */
    static double standardError(List<SizeView> one, List<SizeView> other) {
        return Math.sqrt(varianceOfMean(one) + varianceOfMean(other));
    }

    private static double varianceOfMean(List<SizeView> course) {
        double mean = mean(course, each -> (double) each.bytes() / each.answered());
        double squares = course.stream().mapToDouble(each -> (double) each.bytes() / each.answered() - mean)
                .map(off -> off * off).sum();
        return squares / (course.size() - 1) / course.size();
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
                        && one.p99() - usual >= NOTICEABLE)
                .toList();
        long longest = slow.stream().mapToLong(SecondSummary::p99).max().orElse(0);
        // what comes back is about as long each time
        Set<Integer> marks = slow.stream().filter(one -> one.p99() >= longest / 3).map(SecondSummary::second)
                .collect(Collectors.toSet());
        return beat(marks, seconds.getFirst().second(), seconds.getLast().second() + 1, longest / 1e9)
                .map(beat -> new Signature(Signature.Kind.PAUSES, String.format(Locale.ROOT,
                        "About each %s seconds calls wait up to %s, %d times in %d seconds; p99 of a usual second is %s",
                        Written.significant(beat.every()), Written.duration(longest), beat.hits(), seconds.size(),
                        Written.duration(usual))));
    }

    private record Beat(double every, int hits) {
    }

    /**
     * The beat that nearly all marks keep to, and that has nearly all its strokes among them; each stroke marks the seconds over
     * which it lasts.
     */
    private static Optional<Beat> beat(Set<Integer> marks, int from, int to, double lasts) {
        if (marks.size() < MIN_PAUSES || marks.size() > MOST_MARKED * (to - from)) {
            return Optional.empty();
        }
        int best = MIN_PAUSES - 1;
        int first = 0;
        int last = 0;
        for (int tenths = SHORTEST_BEAT; tenths <= Math.min(LONGEST_BEAT, (to - from) * 10 / MIN_PAUSES); tenths++) {
            int most = 0;
            for (int phase = 0; phase < tenths; phase++) {
                most = Math.max(most, hits(marks, from, to, lasts, tenths / 10.0, phase / 10.0));
            }
            if (most > best) {
                best = most;
                first = tenths;
                last = tenths;
            } else if (most == best && tenths == last + 1) {
                // seconds tell a beat only so closely
                last = tenths;
            }
        }
        return first == 0 ? Optional.empty() : Optional.of(new Beat((first + last) / 20.0, best));
    }

    /** Strokes that are marked; 0 where too many are not, or too much is marked beside them. */
    private static int hits(Set<Integer> marks, int from, int to, double lasts, double every, double phase) {
        int strokes = 0;
        int hits = 0;
        Set<Integer> covered = new HashSet<>();
        for (double at = from + phase; at + lasts < to; at += every) {
            strokes++;
            boolean hit = false;
            for (int second = (int) at; second <= (int) (at + lasts); second++) {
                if (marks.contains(second)) {
                    hit = true;
                    covered.add(second);
                }
            }
            hits += hit ? 1 : 0;
        }
        double share = hits <= MIN_PAUSES ? 1 : NEARLY_EACH;
        return hits >= share * strokes && covered.size() >= share * marks.size() ? hits : 0;
    }

    // ---- a limit of connections -----------------------------------------------------------------------------------

    /** Errors that begin at a number of connections, or connections that are never as many as were asked for. */
    static Optional<Signature> limit(RunView run, LoadProfile load, Wire wire) {
        if (!run.connections().isKnown() || wire.reuse() != Wire.Reuse.KEEP) {
            return Optional.empty();
        }
        List<Curve> wanted = load.crowds().stream().map(crowd -> Curve.of(crowd.load())).toList();
        boolean users = load.crowds().stream().allMatch(crowd -> crowd.load() instanceof LoadProfile.Closed);
        List<Second> seconds = new ArrayList<>();
        for (ConnectionView.Open open : run.connections().seconds()) {
            run.seconds().stream().filter(one -> one.second() == open.second() && one.sent() > 0).findFirst()
                    .ifPresent(one -> seconds.add(new Second(
                            users
                                    ? Math.round(
                                            wanted.stream().mapToDouble(curve -> curve.at(one.second() + 0.5)).sum()
                                                    / wire.depth())
                                    : open.open(),
                            errors(one),
                            one.second())));
        }
        int asked = (load.connections() + wire.depth() - 1) / wire.depth();
        return load.isSteady() ? tooFew(asked, run) : rising(seconds);
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
