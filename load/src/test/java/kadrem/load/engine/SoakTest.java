package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.management.ManagementFactory;
import java.time.Duration;

import kadrem.core.study.LoadProfile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.Isolated;

/**
 * Hours on a clock that is handed in. The rate and the hours can be raised for a benchmark by -Dkadrem.soak.rate and
 * -Dkadrem.soak.hours; docs/benchmarks.md tells how.
 */
@Isolated
class SoakTest {
    private static final double RATE = Double.parseDouble(System.getProperty("kadrem.soak.rate", "20"));
    private static final long HOURS = Long.getLong("kadrem.soak.hours", 2);
    /** Of each second a handful of numbers stays, for the tests of steadiness and drift. */
    private static final long MAX_BYTES_PER_SECOND = 200;

    private static long heldBytes(SimulatedRun.Outcome outcome) {
        long used = Long.MAX_VALUE;
        for (int i = 0; i < 4; i++) {
            System.gc();
            used = Math.min(used, ManagementFactory.getMemoryMXBean().getHeapMemoryUsage().getUsed());
        }
        assertThat(outcome.held()).isNotNull();
        return used;
    }

    private static SimulatedRun.Outcome run(Duration length) {
        var load = new LoadProfile.Open(RATE, LoadProfile.Spacing.CONSTANT, 16, Duration.ofSeconds(5), length,
                Duration.ofSeconds(5));
        return SimulatedRun.of(Load.one("/x"), load, Duration.ofMillis(3));
    }

    @Test
    void memoryDoesNotGrowWithTheLengthOfARun() {
        run(Duration.ofMinutes(1)); // classes are loaded
        long afterMinutes = heldBytes(run(Duration.ofMinutes(5)));
        SimulatedRun.Outcome hours = run(Duration.ofHours(HOURS));
        long afterHours = heldBytes(hours);
        assertThat(hours.figures().good()).isEqualTo(Math.round(RATE * 3600 * HOURS));
        assertThat(hours.figures().response().p99()).as("the handed-in clock is the one recorded")
                .isBetween(3_000_000L, 7_000_000L);
        System.out.printf("heap held by 5 min %.1f MiB, by %d h of %.0f calls/s %.1f MiB%n", afterMinutes / 1048576.0,
                HOURS, RATE, afterHours / 1048576.0);
        assertThat(afterHours - afterMinutes).isLessThan(MAX_BYTES_PER_SECOND * 3600 * HOURS + 1_000_000);
    }
}
