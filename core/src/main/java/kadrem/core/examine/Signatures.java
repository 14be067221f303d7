package kadrem.core.examine;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.SecretReference;
import kadrem.core.study.Wire;
import kadrem.core.study.Written;
import org.HdrHistogram.Histogram;

/**
 * Finds the signatures of a candidate in a rehearsal and in a run. A signature is told only where the record shows it plainly; the bounds
 * are common practice, no source.
 */
public final class Signatures {
    private static final long MILLI = 1_000_000L;
    private static final long SECOND = 1_000 * MILLI;
    /** Fewer cases are chance. */
    private static final int FEW = 5;
    private static final int SOME = 20;
    private static final int MANY = 50;
    /** A share that is worth a word. */
    private static final double MUCH = 0.2;
    /** Nearly all. */
    private static final double MOST = 0.8;
    /** Answers of one connection among all, from which on it carries almost all. */
    private static final double ALMOST_ALL = 0.9;
    /** By how much the load of the fullest third of the seconds is more than that of the calmest. */
    private static final double MORE_LOAD = 1.5;
    /** Standard errors by which sizes must differ, so that it is not the values. */
    private static final double ERRORS = 4;
    private static final long LARGE_BODY = 1024;
    private static final int SMALL_ANSWER = 64 << 10;
    private static final int DIFFERENT = 8;
    private static final long[] ROUND_SECONDS = {1, 2, 3, 5, 10, 15, 20, 30, 60};

    private final RunView run;
    private final List<Exchange> examples;
    private final Candidate candidate;
    private final MeasuredStudy study;
    private final Optional<Rehearsal.OfCandidate> rehearsed;
    private final List<Signature> found = new ArrayList<>();

    private Signatures(RunView run, List<Exchange> examples, Candidate candidate, MeasuredStudy study,
            Optional<Rehearsal.OfCandidate> rehearsed) {
        this.run = run;
        this.examples = examples;
        this.candidate = candidate;
        this.study = study;
        this.rehearsed = rehearsed;
    }

    /**
     * Those of a run.
     *
     * @param run the whole of it
     * @param examples exchanges that were kept of it
     * @param rehearsed what the candidate answered without load, where it was rehearsed
     */
    public static List<Signature> ofRun(RunView run, List<Exchange> examples, Candidate candidate, MeasuredStudy study,
            Optional<Rehearsal.OfCandidate> rehearsed) {
        var look = new Signatures(run, examples, candidate, study, rehearsed);
        look.inPieces();
        look.connectionPerCall();
        look.neverResumed();
        look.oneConnection();
        run.calls().forEach(look::allEqual);
        run.calls().forEach(look::shrinks);
        run.calls().forEach(look::slowByTheClock);
        if (study.search().isEmpty()) {
            CourseSignatures.pauses(run).ifPresent(look.found::add);
            CourseSignatures.limit(run, study.load(), candidate.access().wire()).ifPresent(look.found::add);
        }
        return List.copyOf(look.found);
    }

    private void add(Signature.Kind kind, String words, Object... values) {
        found.add(new Signature(kind, String.format(Locale.ROOT, words, values)));
    }

    private static String percent(double share) {
        return Math.round(share * 100) + " %";
    }

    // ---- of a run -------------------------------------------------------------------------------------------------

    private void inPieces() {
        for (CallView call : run.calls()) {
            long pieces = call.traits().inPieces();
            if (pieces >= SOME && pieces >= MUCH * call.answered()) {
                add(Signature.Kind.IN_PIECES, "%s of the answers to %s came in pieces, about 40 ms apart",
                        percent((double) pieces / call.answered()), call.name());
            }
        }
    }

    private void connectionPerCall() {
        long made = run.connect().getTotalCount();
        long sent = run.seconds().stream().mapToLong(kadrem.core.measure.SecondSummary::sent).sum();
        if (candidate.access().wire().reuse() == Wire.Reuse.KEEP && sent >= SOME && made >= MOST * sent) {
            add(Signature.Kind.CONNECTION_PER_CALL, "%,d connections were made for %,d calls", made, sent);
        }
    }

    private void neverResumed() {
        long made = run.handshake().getTotalCount();
        if (candidate.access().wire().resumption() && made >= SOME && run.connections().resumed() == 0) {
            add(Signature.Kind.NEVER_RESUMED, "None of %,d TLS handshakes resumed a session; each took %s (p50)", made,
                    Written.duration(run.handshake().getValueAtPercentile(50)));
        }
    }

    private void oneConnection() {
        ConnectionView all = run.connections();
        int wanted = study.load().connections();
        // arrivals take the connection that was free last, so that under a light load one carries them of right
        boolean several = study.load().crowds().stream().anyMatch(crowd -> crowd.load() instanceof LoadProfile.Closed)
                || candidate.access().wire().depth() > 1;
        if (several && wanted > 1 && all.carried() >= MANY && all.busiest() >= ALMOST_ALL * all.carried()) {
            add(Signature.Kind.ONE_CONNECTION, "One connection carried %s of the answers, though the load has %d users",
                    percent((double) all.busiest() / all.carried()), wanted);
        }
    }

    private void allEqual(CallView call) {
        var looked = call.traits().lookedInto();
        int asked = Long.bitCount(looked.asked);
        if (looked.calls >= SOME && asked >= DIFFERENT && Long.bitCount(looked.answered) == 1) {
            add(Signature.Kind.ALL_EQUAL,
                    "All %,d answers to %s that were looked into are the same, though at least %d different things were asked for",
                    looked.calls, call.name(), asked);
        }
    }

    private void shrinks(CallView call) {
        Map<Integer, Long> load = new HashMap<>();
        run.seconds().forEach(one -> load.put(one.second(), one.sent()));
        // by the load of all calls: that of one varies by chance, and so do the sizes of what was asked for
        List<SizeView> course = run.sizes(call.name()).stream()
                .filter(one -> one.answered() > 0 && load.containsKey(one.second()))
                .sorted(Comparator.comparingLong(one -> load.get(one.second()))).toList();
        int third = course.size() / 3;
        if (third >= 2) {
            List<SizeView> least = course.subList(0, third);
            List<SizeView> most = course.subList(course.size() - third, course.size());
            double calm = CourseSignatures.perAnswer(least);
            double full = CourseSignatures.perAnswer(most);
            double more = CourseSignatures.mean(most, one -> load.get(one.second()))
                    / CourseSignatures.mean(least, one -> load.get(one.second()));
            if (CourseSignatures.answers(least) >= SOME && more >= MORE_LOAD && calm > 0 && full <= MOST * calm
                    && calm - full > ERRORS * CourseSignatures.standardError(least, most)) {
                add(Signature.Kind.SHRINKING, "Answers to %s had %s under most load, and %s under least",
                        call.name(), Written.bytes(Math.round(full)), Written.bytes(Math.round(calm)));
                return;
            }
        }
        long usual = rehearsed.filter(_ -> !varies(call.name())).stream().flatMap(one -> one.calls().stream())
                .filter(one -> one.call().equals(call.name()) && one.isGood()).mapToLong(RehearsedCall::bytesIn)
                .max().orElse(0);
        double mean = call.answered() == 0 ? usual : (double) call.traits().answeredBytes() / call.answered();
        if (usual > 0 && call.answered() >= SOME && mean > 0 && mean <= MOST * usual) {
            add(Signature.Kind.SHRINKING, "Answers to %s had %s in the run, and %s in the rehearsal", call.name(),
                    Written.bytes(Math.round(mean)), Written.bytes(usual));
        }
    }

    private boolean varies(String name) {
        return study.workload().calls().stream().filter(one -> one.name().equals(name)).findFirst()
                .map(Call::placeholders).filter(names -> names.stream().allMatch(SecretReference::isOne)).isEmpty();
    }

    private void slowByTheClock(CallView call) {
        if (!waitsForContinue(call)) {
            roundTimeout(call);
        }
    }

    private static boolean isLarge(CallView call) {
        return call.sent() > 0 && call.bytesOut() >= LARGE_BODY * call.sent();
    }

    private boolean waitsForContinue(CallView call) {
        Histogram times = call.service();
        long waited = between(times, SECOND - 20 * MILLI, SECOND + 150 * MILLI);
        boolean othersDoNot = run.calls().stream().anyMatch(other -> !isLarge(other)
                && other.service().getTotalCount() >= FEW && other.service().getValueAtPercentile(50) < SECOND / 2);
        boolean waits = isLarge(call) && othersDoNot && waited >= FEW && waited >= MOST * times.getTotalCount();
        if (waits) {
            add(Signature.Kind.WAITS_FOR_CONTINUE,
                    "%s of the calls %s, which have large bodies, took a second and little more; calls without one did not",
                    percent((double) waited / times.getTotalCount()), call.name());
        }
        return waits;
    }

    private static long between(Histogram times, long from, long to) {
        return times.getTotalCount() == 0 ? 0 : times.getCountBetweenValues(from, to);
    }

    private void roundTimeout(CallView call) {
        Histogram times = call.service();
        long usual = times.getTotalCount() == 0 ? 0 : times.getValueAtPercentile(50);
        List<Exchange> failures = examples.stream().filter(one -> one.call().equals(call.name()) && isAnswered(one))
                .toList();
        for (long seconds : ROUND_SECONDS) {
            long at = seconds * SECOND;
            long from = at - at / 200;
            long to = at + at / 50 + 20 * MILLI;
            if (usual > at / 3) {
                continue;
            }
            long good = between(times, from, to);
            long near = between(times, at * 7 / 10, at * 3 / 2);
            long failed = failures.stream().filter(one -> one.serviceNanos() >= from && one.serviceNanos() <= to)
                    .count();
            if (good >= FEW && good >= MOST * near) {
                add(Signature.Kind.ROUND_TIMEOUT,
                        "%,d answers to %s came after %d s almost exactly, and few around that",
                        good, call.name(), seconds);
                return;
            }
            if (failed >= 3 && failed >= MOST * failures.stream().filter(one -> one.serviceNanos() >= at * 7 / 10)
                    .count()) {
                add(Signature.Kind.ROUND_TIMEOUT, "Calls %s that failed were answered after %d s almost exactly",
                        call.name(), seconds);
                return;
            }
        }
    }

    /** Whether it was the candidate that ended the call, and no limit of Kadrem's own. */
    private static boolean isAnswered(Exchange example) {
        return example.isFailure() && !example.reason().equals(FailureKind.TIMEOUT.id())
                && !example.reason().equals(FailureKind.GENERATOR.id());
    }

    // ---- of a rehearsal -------------------------------------------------------------------------------------------

    /** Those that show when each call is asked once. */
    public static List<Signature> ofRehearsal(Rehearsal.OfCandidate rehearsed, Candidate candidate) {
        List<Signature> found = new ArrayList<>();
        for (RehearsedCall call : rehearsed.calls()) {
            Timeline times = call.timeline();
            if (times.receiving() >= 35 * MILLI && times.receiving() <= 55 * MILLI && call.bytesIn() <= SMALL_ANSWER) {
                found.add(new Signature(Signature.Kind.IN_PIECES, "The answer to " + call.call()
                        + " came in pieces, " + Written.duration(times.receiving()) + " from the first to the last"));
            }
            boolean othersDoNot = rehearsed.calls().stream().anyMatch(other -> other.isGood()
                    && other.timeline().total() < SECOND / 2);
            if (call.request().length() >= LARGE_BODY && othersDoNot && times.waiting() >= SECOND - 20 * MILLI
                    && times.waiting() <= SECOND + 150 * MILLI) {
                found.add(new Signature(Signature.Kind.WAITS_FOR_CONTINUE, call.call()
                        + ", which has a large body, was answered after " + Written.duration(times.waiting())
                        + "; calls without one were not"));
            }
        }
        closes(rehearsed, candidate).ifPresent(found::add);
        return List.copyOf(found);
    }

    private static Optional<Signature> closes(Rehearsal.OfCandidate rehearsed, Candidate candidate) {
        if (candidate.access().wire().reuse() != Wire.Reuse.KEEP) {
            return Optional.empty();
        }
        List<RehearsedCall> closing = rehearsed.calls().stream().filter(RehearsedCall::isGood)
                .filter(call -> call.header("Connection").equalsIgnoreCase("close")).toList();
        List<RehearsedCall> later = rehearsed.calls().stream().skip(1).filter(RehearsedCall::isGood).toList();
        boolean all = later.size() >= 2 && later.stream().allMatch(call -> call.timeline().connect() > 0);
        if (!closing.isEmpty()) {
            return Optional.of(new Signature(Signature.Kind.CONNECTION_PER_CALL,
                    "The answer to " + closing.getFirst().call() + " says Connection: close"));
        }
        return all
                ? Optional.of(new Signature(Signature.Kind.CONNECTION_PER_CALL,
                        "Each of " + rehearsed.calls().size() + " calls in turn needed a connection of its own"))
                : Optional.empty();
    }
}
