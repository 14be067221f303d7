package kadrem.desk.examine;

import java.util.List;
import java.util.function.ToDoubleFunction;

import kadrem.core.examine.RunView;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.SecondSummary;

/** What can be drawn of a run second by second. */
enum CourseFigures {
    P50("p50 of response times, ms", second -> LatencySummary.millis(second.p50()), true), //
    P95("p95 of response times, ms", second -> LatencySummary.millis(second.p95()), true), //
    P99("p99 of response times, ms", second -> LatencySummary.millis(second.p99()), true), //
    SERVICE("service, mean ms", second -> mean(second, SecondSummary.Parts::service), true), //
    WAITING("waiting for the candidate, mean ms", second -> mean(second, SecondSummary.Parts::waiting), true), //
    LATE("late by the generator, mean ms", second -> mean(second, SecondSummary.Parts::late), true), //
    LATE_P99("late by the generator, p99 ms", second -> second.lateP99() / 1e6, false), //
    GOOD("good calls a second", SecondSummary::good, false), //
    SENT("calls sent a second", SecondSummary::sent, false), //
    INTENDED("arrivals due a second", SecondSummary::intended, false), //
    FAILED("failed calls a second", SecondSummary::failedTotal, false), //
    UNDER_WAY("calls under way", SecondSummary::busy, false), //
    BACKLOG("arrivals waiting for a connection", SecondSummary::backlog, false);

    private final String title;
    private final ToDoubleFunction<SecondSummary> value;
    private final boolean needsCalls;
    /** Whether it is what was counted in the time that an entry stands for, and not a level. */
    private final boolean isCount;

    CourseFigures(String title, ToDoubleFunction<SecondSummary> value, boolean needsCalls) {
        this.title = title;
        isCount = title.endsWith("a second");
        this.value = value;
        this.needsCalls = needsCalls;
    }

    /** In milliseconds; no number for a second without an answer. */
    private static double mean(SecondSummary second, ToDoubleFunction<SecondSummary.Parts> part) {
        return second.parts().equals(SecondSummary.Parts.NONE) ? Double.NaN : part.applyAsDouble(second.parts()) / 1e6;
    }

    @Override
    public String toString() {
        return title;
    }

    /** Middles of the seconds with their values; a second without an answer has no percentile. */
    List<double[]> points(RunView view) {
        return view.seconds().stream().filter(second -> !needsCalls || second.p99() > 0)
                .filter(second -> second.intended() + second.sent() + second.good() + second.failedTotal() > 0)
                .map(second -> new double[]{second.second() + view.step() / 2.0,
                        value.applyAsDouble(second) / (isCount ? view.step() : 1)})
                .toList();
    }
}
