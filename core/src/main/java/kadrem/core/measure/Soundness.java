package kadrem.core.measure;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.SoundnessRule;

/**
 * Whether a run measured the candidate and not something else. Each rule gives a finding with its figure and limit. What a rule looks
 * at decides what follows: only findings on the generator and the record set a round aside, and those on the host where the study gives
 * a limit; a finding about the candidate is told and keeps nothing out.
 */
public final class Soundness {
    /** Mean calls under way times seconds below which their number is too much a matter of chance for Little's law. */
    private static final double MIN_UNDER_WAY = 400;
    /** Share of failed calls above which response times no longer tell how long calls are under way. */
    private static final double MAX_FAILED = 0.01;

    private final Map<SoundnessRule, Double> limits;
    private final List<Finding> findings = new ArrayList<>();

    private Soundness(Map<SoundnessRule, Double> limits) {
        this.limits = limits;
    }

    /**
     * One rule's result.
     *
     * @param figure the figure found
     * @param limit the limit it was held against
     * @param setsAside whether the round is set aside where it is not ok
     * @param crowd that it is about, whose name the sentence begins with; empty where it is about all
     */
    public record Finding(String rule, boolean ok, double figure, double limit, String sentence, boolean setsAside,
            String crowd) {
        /** A finding about all that make the load. */
        public Finding(String rule, boolean ok, double figure, double limit, String sentence, boolean setsAside) {
            this(rule, ok, figure, limit, sentence, setsAside, "");
        }

        /** A finding of a rule that has its usual limit. */
        public Finding(String rule, boolean ok, double figure, double limit, String sentence) {
            this(rule, ok, figure, limit, sentence,
                    SoundnessRule.byLabel(rule).filter(one -> one.setsAside(false)).isPresent());
        }

        /** @param limited whether the study gives the limit */
        static Finding of(SoundnessRule rule, double figure, double limit, boolean limited) {
            return new Finding(rule.label(), rule.accepts(figure, limit), figure, limit, rule.sentence(figure, limit),
                    rule.setsAside(limited));
        }

        /** The same of one crowd. */
        public Finding of(String name) {
            return name.isEmpty()
                    ? this
                    : new Finding(rule, ok, figure, limit, name + ": " + sentence, setsAside, name);
        }

        /** Whether something else than the candidate was measured, by this finding. */
        public boolean disturbs() {
            return !ok && setsAside;
        }
    }

    /**
     * What the rules look at.
     *
     * @param asked what was asked of each crowd
     * @param lanes number of lanes, each of which may use one processor
     * @param watched what was seen of the host and over time
     * @param clockStepMillis by how much the wall clock and the clock that only goes forward moved apart
     * @param ownFaults faults of the generator's own
     * @param deciding metrics by which candidates are compared or judged
     * @param candidateStayed whether the candidate's process was the same at the end as at the start
     */
    public record Evidence(LoadProfile load, RunFigures figures, List<Asked> asked, int lanes,
            Watched watched, double clockStepMillis, long ownFaults, Set<Metric> deciding, boolean candidateStayed) {
        public Evidence {
            asked = List.copyOf(asked);
        }

        /** Visits of all crowds that were due in the measured part by the load. */
        long intended() {
            return asked.stream().mapToLong(Asked::intended).sum();
        }

        private boolean hasCrowds() {
            return asked.size() > 1;
        }
    }

    /**
     * Visits of a crowd in the measured part.
     *
     * @param crowd its name; empty where there are no crowds
     * @param intended due by the load; 0 where users begin them as they are answered
     * @param begun those of them that were begun
     */
    public record Asked(String crowd, long intended, long begun) {
    }

    /**
     * What was seen of the host and over time; empty where it could not be.
     *
     * @param workShare time in which the lanes sent or read, of all together, as a share of the measured part
     * @param userCpuShare processor time of the threads under users who wait on virtual threads, as a share of what all processors have;
     *            there are as many such threads as processors
     * @param settledAfterSeconds second from which response times are steady
     * @param drift change of the mean response time over the measured part, as a share; below 0 where it falls
     * @param underWay mean number of calls under way
     */
    public record Watched(OptionalDouble workShare, OptionalDouble userCpuShare, OptionalDouble gcShare,
            OptionalDouble stealShare,
            OptionalDouble otherShare, OptionalDouble settledAfterSeconds, OptionalDouble drift,
            OptionalDouble underWay) {
        /** Nothing was seen. */
        public static final Watched NOTHING = new Watched(OptionalDouble.empty(), OptionalDouble.empty(),
                OptionalDouble.empty(), OptionalDouble.empty(), OptionalDouble.empty(), OptionalDouble.empty(),
                OptionalDouble.empty(), OptionalDouble.empty());
    }

    /** @param limits limits that differ from the usual ones */
    public static List<Finding> judge(Evidence evidence, Map<SoundnessRule, Double> limits) {
        var soundness = new Soundness(limits);
        soundness.generator(evidence);
        soundness.host(evidence.watched());
        soundness.steadiness(evidence);
        RunFigures figures = evidence.figures();
        soundness.add(SoundnessRule.CLOCK_STEPS, evidence.clockStepMillis());
        if (evidence.hasCrowds()) {
            figures.crowds().forEach(crowd -> soundness.add(SoundnessRule.TAIL_SUPPORT,
                    crowd.response().tailSupport(0.99), crowd.name()));
        } else {
            soundness.add(SoundnessRule.TAIL_SUPPORT, figures.response().tailSupport(0.99));
        }
        soundness.add(SoundnessRule.CANDIDATE_PROCESS, evidence.candidateStayed() ? 0 : 1);
        return List.copyOf(soundness.findings);
    }

    private void add(SoundnessRule rule, double figure) {
        add(rule, figure, rule.usualLimit());
    }

    private void add(SoundnessRule rule, double figure, double usualLimit) {
        findings.add(Finding.of(rule, figure, limits.getOrDefault(rule, usualLimit), limits.containsKey(rule)));
    }

    /** The same of one crowd, whose name stands before the sentence. */
    private void add(SoundnessRule rule, double figure, String crowd) {
        add(rule, figure);
        findings.add(findings.removeLast().of(crowd));
    }

    private void generator(Evidence evidence) {
        RunFigures figures = evidence.figures();
        long limit = evidence.load().timeout().toNanos();
        evidence.deciding().stream().map(metric -> figures.lateShare(metric, limit)).filter(OptionalDouble::isPresent)
                .mapToDouble(OptionalDouble::getAsDouble).max()
                .ifPresent(share -> add(SoundnessRule.LATE, share));
        if (evidence.hasCrowds()) {
            evidence.asked().forEach(crowd -> evidence.deciding().stream().filter(metric -> metric.of().isEmpty())
                    .map(metric -> figures.lateShare(metric.of(crowd.crowd()), limit))
                    .filter(OptionalDouble::isPresent).mapToDouble(OptionalDouble::getAsDouble).max()
                    .ifPresent(share -> add(SoundnessRule.LATE, share, crowd.crowd())));
        }
        add(SoundnessRule.OWN_FAULTS, evidence.ownFaults());
        evidence.asked().stream().filter(crowd -> crowd.intended() > 0).forEach(
                crowd -> add(SoundnessRule.ACHIEVED_LOAD, (double) crowd.begun() / crowd.intended(), crowd.crowd()));
        if (evidence.intended() > 0) {
            add(SoundnessRule.BACKLOG, (double) figures.unsent() / evidence.intended());
        }
        evidence.watched().workShare().ifPresent(share -> add(SoundnessRule.GENERATOR_CPU,
                Math.max(share / evidence.lanes(), evidence.watched().userCpuShare().orElse(0))));
        evidence.watched().gcShare().ifPresent(share -> add(SoundnessRule.GENERATOR_GC, share));
    }

    private void host(Watched watched) {
        watched.stealShare().ifPresent(share -> add(SoundnessRule.STEAL, share));
        watched.otherShare().ifPresent(share -> add(SoundnessRule.OTHER_PROCESSES, share));
    }

    /** Only under one level of load is a change in response times a fault. */
    private void steadiness(Evidence evidence) {
        RunFigures figures = evidence.figures();
        if (evidence.load().isSteady()) {
            evidence.watched().settledAfterSeconds()
                    .ifPresent(second -> add(SoundnessRule.WARM_UP, second, evidence.load().warmUp().toSeconds()));
            evidence.watched().drift().ifPresent(drift -> add(SoundnessRule.DRIFT, drift));
        }
        double mean = evidence.watched().underWay().orElse(0);
        if (figures.errorShare() <= MAX_FAILED && mean * figures.seconds() >= MIN_UNDER_WAY) {
            double expected = figures.throughput() * figures.service().mean() / 1e9;
            add(SoundnessRule.LITTLES_LAW, Math.abs(mean - expected) / mean);
        }
    }

    /** The finding on the stream digest of a run against the first run of its round. */
    public static Finding sameStream(boolean same) {
        return Finding.of(SoundnessRule.STREAM_DIGEST, same ? 0 : 1, 0, false);
    }

    /** Findings held against limits that a study has changed since; those of rules without a limit of its own stay. */
    public static List<Finding> under(List<Finding> findings, Map<SoundnessRule, Double> limits) {
        return findings.stream().map(finding -> SoundnessRule.byLabel(finding.rule()).flatMap(
                rule -> Optional.ofNullable(limits.get(rule))
                        .map(limit -> Finding.of(rule, finding.figure(), limit, true).of(finding.crowd())))
                .orElse(finding)).toList();
    }
}
