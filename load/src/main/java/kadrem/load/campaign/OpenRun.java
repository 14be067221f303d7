package kadrem.load.campaign;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;

import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.plan.LoadDigest;
import kadrem.core.plan.Rounds;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;

/**
 * A run of the plan that is still to be made.
 *
 * @param position place of the candidate in the random order of its round, from 1
 */
public record OpenRun(int round, int position, Candidate candidate) {
    /**
     * The runs still to be made so that {@code wanted} rounds count. A run of the same workload and load that is a result, were it that the
     * candidate died, is not made again; one that could not be prepared, was stopped or cut off is. For a round that was set aside
     * another is added at the end, but no more of them than rounds are wanted.
     */
    public static List<OpenRun> of(MeasuredStudy study, List<RunRecord> runs, int wanted) {
        return of(study, runs, wanted, LoadDigest.of(study), Set.copyOf(Comparison.roundsSetAside(study, runs)));
    }

    private static List<OpenRun> of(MeasuredStudy study, List<RunRecord> runs, int wanted, String digest,
            Set<Integer> aside) {
        var open = new ArrayList<OpenRun>();
        List<String> ids = study.candidates().stream().map(Candidate::id).toList();
        int counting = 0;
        for (int round = 1; counting < wanted && round <= 2 * wanted; round++) {
            int position = 0;
            counting += aside.contains(round) ? 0 : 1;
            int number = round;
            for (String id : Rounds.order(ids, study.plan().seed(), round)) {
                position++;
                boolean done = runs.stream().anyMatch(run -> run.round() == number && run.candidate().equals(id)
                        && run.studyDigest().equals(digest) && !(run.standing() instanceof Standing.NotMade));
                if (!done) {
                    open.add(new OpenRun(round, position, study.candidate(id).orElseThrow()));
                }
            }
        }
        return List.copyOf(open);
    }

    /** How many rounds are wanted where one more is to count than do now. */
    public static int firstOpenRound(MeasuredStudy study, List<RunRecord> runs) {
        String digest = LoadDigest.of(study);
        Set<Integer> aside = Set.copyOf(Comparison.roundsSetAside(study, runs));
        int wanted = 1;
        while (of(study, runs, wanted, digest, aside).isEmpty()) {
            wanted++;
        }
        return wanted;
    }

    /** Whether an adaptive plan has come to its end: every deciding pair is settled, by a test that is valid at any stop. */
    static boolean isSettled(MeasuredStudy study, List<RunRecord> runs) {
        if (!study.plan().isAdaptive()) {
            return false;
        }
        List<PairComparison> deciding = Comparison.of(study, runs).pairs().stream().filter(PairComparison::deciding)
                .toList();
        return deciding.size() == study.pairs().size() * study.question().deciders().size()
                && deciding.stream().allMatch(pair -> pair.outcome().isSettled());
    }
}
