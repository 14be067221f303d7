package kadrem.core.verdict;

import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;

import kadrem.core.plan.Look;
import kadrem.core.plan.Rounds;
import kadrem.core.study.Candidate;
import kadrem.core.study.Judgement;
import kadrem.core.study.Launch;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;

/** Whether a version of a candidate is worse than an earlier one: a study of the two, measured beside each other. */
public final class Regression {
    /** Id of the earlier version in such a study. */
    public static final String BEFORE = "before";
    /** Id of the later version in such a study. */
    public static final String AFTER = "after";

    private Regression() {
    }

    /**
     * A version of a candidate.
     *
     * @param name commit, tag or other name
     * @param launch how this version is started
     */
    public record Version(String name, Launch launch) {
    }

    /**
     * The study of two versions of a candidate under the load of a study.
     *
     * @param rounds how many; empty for those of the study, but at least as many as can settle anything
     * @throws IllegalArgumentException if there is no such candidate
     */
    public static MeasuredStudy study(MeasuredStudy study, String candidate, Version before, Version after,
            Optional<Integer> rounds) {
        Candidate one = study.candidate(candidate)
                .orElseThrow(() -> new IllegalArgumentException(candidate + " is not a candidate of the study"));
        Question asked = study.question();
        var question = new Question("Is " + after.name() + " of " + one.name() + " worse than " + before.name() + "?",
                BEFORE, asked.significance(), asked.deciders(), asked.requirements());
        Plan plan = study.plan();
        int fewest = Rounds.neededToSettle(asked.deciders().size() + 2 * asked.requirements().size(),
                Look.ofEnd(asked.significance()));
        return new MeasuredStudy(study.name() + ", " + one.id() + " " + before.name() + " and " + after.name(),
                question,
                List.of(version(one, BEFORE, before), version(one, AFTER, after)), study.workload(), study.load(),
                new Plan(rounds.orElse(Math.max(plan.rounds(), fewest)), plan.seed(), plan.pause(), plan.idle(), false,
                        OptionalInt.empty(), plan.pacing()),
                study.agreement(), study.intended(),
                // the rounds left out by hand are those of the study, not these
                new Judgement(study.judgement().limits(), List.of()));
    }

    private static Candidate version(Candidate of, String id, Version version) {
        return new Candidate(id, of.name() + " " + version.name(), of.address(), Optional.of(version.launch()),
                of.ready(),
                of.reset(), of.version(), of.access(), of.watch(), of.data(), of.elsewhere());
    }

    /** Whether a deciding metric of the later version is settled worse. */
    public static boolean isWorse(Comparison comparison) {
        return comparison.pairs().stream().filter(PairComparison::deciding)
                .anyMatch(pair -> pair.outcome() == Outcome.WORSE || pair.outcome() == Outcome.WORSE_BY_MORE);
    }

    /** A sentence for each deciding metric: how much the later version differs, and whether that is settled. */
    public static List<String> findings(Comparison comparison) {
        return comparison.pairs().stream().filter(PairComparison::deciding)
                .map(pair -> Wording.finding(comparison.study(), pair) + ": " + Wording.outcome(pair) + ".").toList();
    }
}
