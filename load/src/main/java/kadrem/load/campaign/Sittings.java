package kadrem.load.campaign;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.plan.LoadDigest;
import kadrem.core.plan.Look;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.verdict.Comparison;
import kadrem.load.host.Machine;

/** Further sittings of the same plan: on another day, after another start of the system, or on another host. */
public final class Sittings {
    private Sittings() {
    }

    /** The sitting that a run made now would belong to. */
    static String now() {
        return RunIdentity.sitting(Instant.now(), Machine.describe());
    }

    /**
     * A sitting that could be begun now, or be gone on with.
     *
     * @param objection why it cannot be
     * @param lastRound rounds that are to count when it is through
     * @param rounds those of them that are still to be measured
     * @param words what would be measured
     * @param changes what was changed since the first run, so that this is not the same plan any more
     */
    public record Further(Optional<String> objection, int lastRound, int rounds, String words, List<String> changes) {
    }

    /** Takes a moment, in which this host is asked what it is. */
    public static Further further(MeasuredStudy study, List<RunRecord> runs) {
        String now = now();
        Map<String, List<Integer>> sittings = Comparison.of(study, runs).allSittings();
        int number = sittings.size() + (sittings.containsKey(now) ? 0 : 1);
        int last = wanted(study, runs, now);
        int rounds = Math.max(0, last - OpenRun.firstOpenRound(study, runs) + 1);
        return new Further(objection(study, runs, now), last, rounds, "A further sitting, the " + number
                + ". of this study: " + rounds + (rounds == 1 ? " round" : " rounds") + " to be measured."
                + judgedAgain(number), changes(study, runs));
    }

    /** When sittings are judged, where that is not with this one. */
    private static String judgedAgain(int number) {
        int next = Look.MIN_SITTINGS;
        while (next < number) {
            next *= 2;
        }
        return next == number ? "" : " The study is judged over sittings when there are " + next + ".";
    }

    static Optional<String> objection(MeasuredStudy study, List<RunRecord> runs, String now) {
        Map<String, List<Integer>> sittings = Comparison.of(study, runs).allSittings();
        if (sittings.isEmpty()
                || sittings.size() == 1 && !OpenRun.of(study, runs, study.plan().most()).isEmpty()) {
            return Optional.of("The plan is not through yet: kadrem measure goes on with it.");
        }
        return sittings.size() == 1 && sittings.containsKey(now)
                ? Optional.of(
                        "This would be the same sitting: the same day, host and start of the system. What it is to show is whether"
                                + " the difference is there tomorrow, too: come back on another day, after a restart, or copy the study's"
                                + " folder to another host.")
                : Optional.empty();
    }

    static int wanted(MeasuredStudy study, List<RunRecord> runs, String now) {
        return Comparison.of(study, runs).allSittings().entrySet().stream().filter(one -> !one.getKey().equals(now))
                .mapToInt(one -> one.getValue().size()).sum() + study.plan().rounds();
    }

    /** What was changed since the first run, so that this is not the same plan any more. */
    static List<String> changes(MeasuredStudy study, List<RunRecord> runs) {
        String digest = LoadDigest.of(study);
        return Comparison.of(study, runs.stream().filter(run -> run.studyDigest().equals(digest)).toList())
                .changedAfterSeal();
    }
}
