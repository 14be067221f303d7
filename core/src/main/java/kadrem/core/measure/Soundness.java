package kadrem.core.measure;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.OptionalDouble;

import kadrem.core.study.LoadProfile;

/**
 * Whether a run measured the candidate and not something else. Each rule gives a finding with its figure and limit; a run
 * is sound when every finding is ok.
 */
public final class Soundness {
    /** A generator that is later than this for one call in a hundred has put its own delay into the figures, … */
    private static final double LAG_P99_MILLIS = 2;
    /** … unless that is less than this share of the p99 response time. */
    private static final double LAG_SHARE_OF_RESPONSE = 0.1;
    /** A virtual machine that loses more of its processors' time than this measures its neighbours. */
    private static final double STEAL_SHARE = 0.05;
    /** Less than this share of the intended arrivals is another load than the one asked for. */
    private static final double ACHIEVED_SHARE = 0.99;
    /** A lane that computes for more than this share of the time has no reserve left, and its queue enters the figures. */
    private static final double LANE_CPU_SHARE = 0.90;
    private static final double GC_SHARE = 0.01;
    /** Arrivals still waiting at the end, as a share of all: beyond it the figures depend on the length of the run. */
    private static final double BACKLOG_SHARE = 0.01;
    /** Fewest samples above p99 for p99 to be a number at all; under 50 it is weak. */
    private static final long TAIL_SAMPLES = 10;

    private Soundness() {
    }

    /**
     * One rule's result.
     *
     * @param figure the figure found
     * @param limit the limit it was held against
     */
    public record Finding(String rule, boolean ok, double figure, double limit, String sentence) {
    }

    /**
     * What the rules look at.
     *
     * @param intended arrivals that the profile asked for in the measured part; 0 in the closed model
     * @param begun visits that were begun of those
     * @param lanes number of lanes, each of which may use one processor
     * @param candidateStayed whether the candidate's process was the same at the end as at the start
     */
    public record Evidence(LoadProfile load, RunFigures figures, long intended, long begun, int lanes,
            OptionalDouble laneCpuShare, OptionalDouble gcShare, OptionalDouble stealShare, boolean candidateStayed) {
    }

    public static List<Finding> judge(Evidence evidence) {
        var findings = new ArrayList<Finding>();
        RunFigures figures = evidence.figures();
        double lag = figures.lag().p99() / 1e6;
        double lagLimit = Math.max(LAG_P99_MILLIS, LAG_SHARE_OF_RESPONSE * figures.response().p99() / 1e6);
        findings.add(atMost("schedule lag", lag, lagLimit,
                format("p99 of the generator's own delay is %.2f ms (limit %.2f ms)", lag, lagLimit)));
        if (evidence.load() instanceof LoadProfile.Open) {
            double achieved = evidence.intended() == 0 ? 1 : (double) evidence.begun() / evidence.intended();
            findings.add(new Finding("achieved load", achieved >= ACHIEVED_SHARE, achieved, ACHIEVED_SHARE,
                    format("%d of %d due arrivals were sent (at least %.0f %% wanted)", evidence.begun(),
                            evidence.intended(), ACHIEVED_SHARE * 100)));
            double waiting = evidence.intended() == 0 ? 0 : (double) figures.unsent() / evidence.intended();
            findings.add(atMost("backlog", waiting, BACKLOG_SHARE,
                    format("%d arrivals still waited for a connection at the end (limit %.0f %% of all)",
                            figures.unsent(), BACKLOG_SHARE * 100)));
        }
        evidence.laneCpuShare().ifPresent(share -> {
            double perLane = share / evidence.lanes();
            findings.add(atMost("generator CPU", perLane, LANE_CPU_SHARE,
                    format("the generator's lanes were busy %.0f %% of the time (limit %.0f %%)", perLane * 100,
                            LANE_CPU_SHARE * 100)));
        });
        evidence.gcShare()
                .ifPresent(share -> findings.add(atMost("generator GC", share, GC_SHARE,
                        format("garbage collection took %.2f %% of the generator's time (limit %.0f %%)", share * 100,
                                GC_SHARE * 100))));
        evidence.stealShare()
                .ifPresent(share -> findings.add(atMost("other work on the host", share, STEAL_SHARE,
                        format("the machine below took %.1f %% of the processors' time away (limit %.0f %%)",
                                share * 100, STEAL_SHARE * 100))));
        long tail = figures.response().tailSupport(0.99);
        findings.add(new Finding("tail support", tail >= TAIL_SAMPLES, tail, TAIL_SAMPLES,
                format("%d samples lie above p99 (at least %d wanted)", tail, TAIL_SAMPLES)));
        findings.add(new Finding("candidate process", evidence.candidateStayed(), evidence.candidateStayed() ? 0 : 1, 0,
                evidence.candidateStayed()
                        ? "the candidate's process stayed the same"
                        : "the candidate's process ended or was replaced during the run"));
        return List.copyOf(findings);
    }

    /** The finding on the stream digest of a run against the first run of its round. */
    public static Finding sameStream(boolean same) {
        return new Finding("stream digest", same, same ? 0 : 1, 0,
                same
                        ? "the stream is the one that the round's other candidates were sent"
                        : "the stream differs from the one that the round's first candidate was sent");
    }

    private static Finding atMost(String rule, double figure, double limit, String sentence) {
        return new Finding(rule, figure <= limit, figure, limit, sentence);
    }

    private static String format(String pattern, Object... values) {
        return String.format(Locale.ROOT, pattern, values);
    }
}
