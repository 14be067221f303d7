package kadrem.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.SplittableRandom;

import org.HdrHistogram.Histogram;
import org.junit.jupiter.api.Test;

/** What is found in a histogram and added to another is what the library's own addition gives. */
class RecordedTest {
    @Test
    void whatIsFoundAddsUpAsTheLibraryAdds() {
        var random = new SplittableRandom(5);
        for (int size : new int[]{0, 1, 3, 400}) {
            Histogram some = Latency.forRun();
            for (int i = 0; i < size; i++) {
                some.recordValueWithCount((long) Math.exp(28 * random.nextDouble()) - 1, 1 + random.nextInt(3));
            }
            Histogram before = Latency.forRun();
            before.recordValue(7_000_000);
            Histogram byLibrary = before.copy();
            byLibrary.add(some);
            Recorded found = Recorded.of(some);
            found.addTo(before);
            assertThat(before).isEqualTo(byLibrary);
            assertThat(before.getMaxValue()).isEqualTo(byLibrary.getMaxValue());
            assertThat(before.getMinNonZeroValue()).isEqualTo(byLibrary.getMinNonZeroValue());
            assertThat(found.total()).isEqualTo(some.getTotalCount());
            assertThat(found.sum()).isCloseTo(some.getMean() * some.getTotalCount(), within(1e-6 + 1e-9 * found.sum()));
        }
    }

    /** Zeros, and a log of an older Kadrem, whose smallest place holds all times below half a microsecond: nothing is lost. */
    @Test
    void theSmallestPlaceHidesNothing() {
        Histogram zeros = Latency.forRun();
        zeros.recordValueWithCount(0, 3);
        assertThat(Recorded.of(zeros).total()).isEqualTo(3);
        var coarse = new Histogram(1_000, Latency.MAX_NANOS, 3);
        for (long nanos : new long[]{0, 1, 300, 511, 512, 700, 5_000, 3_000_000}) {
            coarse.recordValue(nanos);
        }
        Histogram fine = Latency.forRun();
        Recorded.of(coarse).addTo(fine);
        assertThat(fine.getTotalCount()).isEqualTo(8);
        assertThat((double) fine.getValueAtPercentile(100)).isCloseTo(3e6, within(2_000.0));
        assertThat(fine.getCountBetweenValues(0, 511)).isEqualTo(4);
    }
}
