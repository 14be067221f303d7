package kadrem.core.stats;

import org.apache.commons.statistics.descriptive.Quantile;
import org.apache.commons.statistics.descriptive.Quantile.EstimationMethod;

/** Quantiles of few values. Source: Hyndman, Fan: Sample quantiles in statistical packages, American Statistician 50, 1996. */
public final class Quantiles {
    private static final Quantile MEDIAN_UNBIASED = Quantile.withDefaults().withCopy(true).with(EstimationMethod.HF8);

    private Quantiles() {
    }

    /** Type 8, which is about median-unbiased whatever the distribution. */
    public static double of(double[] values, double p) {
        return MEDIAN_UNBIASED.evaluate(values, p);
    }

    /** Two of them at once. */
    static double[] of(double[] values, double p, double q) {
        return MEDIAN_UNBIASED.evaluate(values, p, q);
    }
}
