package kadrem.core.stats;

import java.util.Optional;

/** What an analysis says of the place of differences: paired ones about their centre, two samples about their shift. */
public interface LocationTest {
    /** The name of the test, such as "signed rank". */
    String method();

    /** The Hodges–Lehmann estimate of the difference. */
    double estimate();

    /** Two-sided p of "there is no difference". */
    default double p() {
        return p(0);
    }

    /**
     * Two-sided p of "the difference is {@code shift}", which agrees with {@link #interval}: it is at most {@code 1 - confidence} where
     * the interval of that confidence does not hold the shift.
     */
    double p(double shift);

    /** An interval with at least the confidence asked for (0 to 1); empty where so few values have none. */
    Optional<Interval> interval(double confidence);
}
