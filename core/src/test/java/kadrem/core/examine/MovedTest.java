package kadrem.core.examine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.IntToDoubleFunction;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SeriesRole;
import org.junit.jupiter.api.Test;

class MovedTest {
    private static final HostSeries CPU = new HostSeries("candidate", "CPU", "% of a core", SeriesRole.CPU);
    private static final HostSeries HOST = new HostSeries("this host", "CPU", "% of all processors", SeriesRole.CPU);
    private static final HostSeries MEMORY = new HostSeries("candidate", "memory", "bytes", SeriesRole.MEMORY);
    private static final HostSeries LOCKED = new HostSeries("jvm", "threads that wait for a lock", "threads",
            SeriesRole.THREADS);
    private static final HostSeries READING = new HostSeries("jvm", "threads that read from a connection", "threads",
            SeriesRole.THREADS);
    private static final Occurrences.Frame FLAT = new Occurrences.Frame(2, true, 1);

    /** Ten readings at rest, two a second, then the load. */
    private static void course(WatchView.Builder view, HostSeries series, IntToDoubleFunction idle,
            IntToDoubleFunction loaded) {
        for (int i = 0; i < 10; i++) {
            view.value(series, i / 2.0 - 5.5, idle.applyAsDouble(i));
        }
        for (int i = 0; i < 20; i++) {
            view.value(series, i + 1.0, loaded.applyAsDouble(i));
        }
    }

    private static List<SecondSummary> seconds(IntToDoubleFunction p99Millis) {
        var seconds = new ArrayList<SecondSummary>();
        for (int i = 0; i < 20; i++) {
            long p99 = Math.round(p99Millis.applyAsDouble(i) * 1e6);
            seconds.add(new SecondSummary(i, 50, 50, 50, Map.of(), p99 / 3, p99 / 2, p99, 50_000, 1, 0));
        }
        return seconds;
    }

    @Test
    void whatLeftItsRestFurthestStandsFirst() {
        var view = new WatchView.Builder();
        course(view, MEMORY, i -> 1e8 + i * 1e5, _ -> 1.002e8);
        course(view, CPU, i -> 1 + i % 2, i -> 60 + i);
        List<Moved> moved = Moved.rank(view.build(), seconds(_ -> 10), 2, 20);
        assertThat(moved).extracting(Moved::series).containsExactly(CPU, MEMORY);
        assertThat(moved.getFirst().departs()).isTrue();
        assertThat(moved.getFirst().idle()).isEqualTo(1.5);
        assertThat(moved.getLast().departs()).isFalse();
    }

    /** However steady it was at rest: a change by less than one per cent stands behind what moved. */
    @Test
    void aTinyChangeOfASteadySeriesIsNoMove() {
        var view = new WatchView.Builder();
        course(view, MEMORY, i -> 1e9 + i, _ -> 1.005e9);
        course(view, CPU, i -> 10 + i, _ -> 40);
        List<Moved> moved = Moved.rank(view.build(), seconds(_ -> 10), 2, 20);
        assertThat(moved).extracting(Moved::series).containsExactly(CPU, MEMORY);
        assertThat(moved.getLast().score()).isGreaterThan(1000);
        assertThat(moved.getLast().departs()).isFalse();
    }

    @Test
    void whatMovesWithTheResponseTimeIsToldAsAnAssociation() {
        var view = new WatchView.Builder();
        course(view, CPU, _ -> 1, i -> 50 + (i * 7) % 20);
        List<Moved> moved = Moved.rank(view.build(), seconds(i -> 10 + (i * 7) % 20), 0, 20);
        assertThat(moved.getFirst().goesWithLatency()).isTrue();
        assertThat(moved.getFirst().associationWords()).startsWith("rises and falls with p99 (rank correlation 1.00");
    }

    /** Two series that wander on their own beside one that goes with the response time: only that one is told. */
    @Test
    void whatOnlyWandersIsNotTold() {
        var view = new WatchView.Builder();
        course(view, CPU, _ -> 1, i -> 50 + (i * 7) % 20);
        // up and down once, as the response time nearly is when it is looked at five seconds later
        course(view, MEMORY, _ -> 1, i -> 100 + 40 * Math.sin(i / 3.2));
        List<Moved> moved = Moved.rank(view.build(), seconds(i -> 10 + (i * 7) % 20), 0, 20);
        assertThat(moved.stream().filter(Moved::goesWithLatency).map(Moved::series)).containsExactly(CPU);
    }

    @Test
    void tooFewReadingsAtRestAreNoneToCompareWith() {
        var view = new WatchView.Builder();
        for (int i = 0; i < 20; i++) {
            view.value(CPU, i < 9 ? i - 9.5 : i - 8, i);
        }
        assertThat(Moved.rank(view.build(), seconds(_ -> 1), 0, 20)).singleElement().satisfies(moved -> {
            assertThat(moved.isScored()).isFalse();
            assertThat(moved.departs()).isFalse();
            assertThat(moved.loaded()).isGreaterThan(moved.idle());
        });
    }

    @Test
    void withoutAnIdleStretchNothingIsSaidToHaveMoved() {
        var view = new WatchView.Builder();
        view.value(CPU, 1, 50);
        assertThat(Moved.rank(view.build(), seconds(_ -> 1), 0, 20)).isEmpty();
    }

    /**
     * By hand, utilisation law: 60 % of one core at 50 calls/s with 10 % at rest is 10 ms a call, so 90 % of the core last for
     * 90 calls/s; 40 % of two processors with 20 % at rest is 8 ms a call, and 1.6 processors last for 200 calls/s.
     */
    @Test
    void theResourceThatSaturatesFirstIsNamedWithItsLoad() {
        var view = new WatchView.Builder();
        course(view, HOST, _ -> 20, _ -> 40);
        course(view, CPU, _ -> 10, _ -> 60);
        List<Demand> demands = Demand.of(Moved.rank(view.build(), seconds(_ -> 1), 0, 21), 50, 1, 2);
        assertThat(demands).extracting(Demand::series).containsExactly(CPU, HOST);
        assertThat(demands.getFirst().demandSeconds()).isCloseTo(0.010, within(1e-12));
        assertThat(demands.getFirst().saturation()).isCloseTo(90, within(1e-9));
        assertThat(demands.getLast().demandSeconds()).isCloseTo(0.008, within(1e-12));
        assertThat(demands.getLast().saturation()).isCloseTo(200, within(1e-9));
    }

    private static List<String> sentences(WatchView view, List<SecondSummary> seconds) {
        return Occurrences.of(seconds, view, FLAT).stream().map(Occurrence::sentence).toList();
    }

    @Test
    void aLeapOfTheResponseTimeIsToldWithTheCandidatesCpu() {
        var view = new WatchView.Builder();
        course(view, CPU, _ -> 1, i -> i < 12 ? 40 : 97);
        assertThat(sentences(view.build(), seconds(i -> i < 12 ? 8 : 40))).containsExactlyInAnyOrder(
                "p99 rose to 5 times what it was at 12 s: from 8 ms to 40 ms, with the candidate's CPU at 97 % of a core",
                "the candidate's CPU reached 97 % of the core it may use at 12 s");
    }

    @Test
    void memoryThatOnlyGrowsMayBeALeakAndMemoryThatIsCollectedIsNone() {
        var leak = new WatchView.Builder();
        course(leak, MEMORY, _ -> 1e8, i -> 1e8 + i * 5e6);
        assertThat(sentences(leak.build(), seconds(_ -> 5))).singleElement().asString()
                .startsWith("candidate: memory grows all the time: by 4.77 MiB a second").endsWith("it may be a leak");
        var sawtooth = new WatchView.Builder();
        course(sawtooth, MEMORY, _ -> 1e8, i -> 1e8 + i % 7 * 2e7);
        assertThat(sentences(sawtooth.build(), seconds(_ -> 5))).isEmpty();
    }

    @Test
    void threadsThatWaitAreToldByWhatTheyWaitFor() {
        var locked = new WatchView.Builder();
        course(locked, CPU, _ -> 1, _ -> 5);
        course(locked, LOCKED, _ -> 0, i -> 20 + i % 3);
        assertThat(sentences(locked.build(), seconds(_ -> 5))).singleElement().asString()
                .startsWith("up to 22 threads of the candidate wait for a lock, while its CPU is at 5 %");
        var waiting = new WatchView.Builder();
        course(waiting, CPU, _ -> 1, _ -> 5);
        course(waiting, READING, _ -> 1, _ -> 9);
        assertThat(sentences(waiting.build(), seconds(_ -> 5))).singleElement().asString()
                .contains("wait for an answer from elsewhere");
        var busy = new WatchView.Builder();
        course(busy, CPU, _ -> 1, _ -> 80);
        course(busy, LOCKED, _ -> 0, _ -> 20);
        assertThat(sentences(busy.build(), seconds(_ -> 5))).isEmpty();
    }

    @Test
    void failuresLatenessAndSilenceAreTold() {
        List<SecondSummary> seconds = new ArrayList<>(seconds(_ -> 5));
        seconds.set(7, new SecondSummary(7, 50, 50, 45, Map.of(FailureKind.TIMEOUT, 5L), 1, 1, 5_000_000, 4_100_000, 1,
                0));
        var view = new WatchView.Builder();
        view.trouble("db host", 9.2, "the SSH connection was lost");
        assertThat(sentences(view.build(), seconds)).containsExactlyInAnyOrder(
                "errors began at 7 s: timeout, 5 so far, none since 7 s",
                "the generator was late in 1 second, most at 7 s: 4.10 ms",
                "db host told nothing at 9 s: the SSH connection was lost");
    }
}
