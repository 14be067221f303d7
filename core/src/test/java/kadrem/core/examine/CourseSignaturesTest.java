package kadrem.core.examine;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.function.IntToDoubleFunction;

import kadrem.core.measure.CallTally;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondTally;
import org.junit.jupiter.api.Test;

/** Pauses that come by the clock, in courses that were made up so that the truth is known. */
class CourseSignaturesTest {
    /** A run of a call whose slowest answer of each second takes so many milliseconds; all others take one. */
    private static RunView run(int seconds, IntToDoubleFunction slowest) {
        var view = new RunView.Builder(Selection.ALL);
        for (int second = 0; second < seconds; second++) {
            view.counts(second, 1, Phase.MEASURED, "look", new CallView.Counts(40, 40, Map.of(), 0, 0));
        }
        for (int second = 0; second < seconds; second++) {
            CallTally call = new SecondTally(1).call(0, Phase.MEASURED);
            for (int i = 0; i < 39; i++) {
                call.answered(1_000_000, 0, 1_000_000);
            }
            long nanos = Math.round(slowest.applyAsDouble(second) * 1e6);
            call.answered(nanos, 0, nanos);
            view.response(second, Phase.MEASURED, "look", call.response());
        }
        return view.build();
    }

    /** Slow where a pause of 200 ms lies in the second, which comes each so many seconds. */
    private static IntToDoubleFunction beating(double every, double phase) {
        return second -> {
            double next = phase + Math.ceil((second - 0.2 - phase) / every) * every;
            return next < second + 1 ? 200 : 2;
        };
    }

    private static Optional<String> pauses(RunView run) {
        return CourseSignatures.pauses(run).map(Signature::found);
    }

    @Test
    void aBeatIsFoundWhateverItsLengthAndItsBeginning() {
        for (double every : List.of(2.0, 2.5, 3.0, 4.3, 5.0, 7.0)) {
            for (double phase : List.of(0.1, 0.7, 1.5)) {
                Optional<String> found = pauses(run(40, beating(every, phase)));
                assertThat(found).as(every + " from " + phase).isPresent();
                double told = Double.parseDouble(found.get().replaceAll("About each ([0-9.]+) .*", "$1"));
                assertThat(told).as(found.get()).isBetween(every - 0.15, every + 0.15);
            }
        }
    }

    @Test
    void aBeatOfWhichOneStrokeFailsIsStillFound() {
        IntToDoubleFunction all = beating(2.5, 0.3);
        assertThat(pauses(run(20, second -> second == 8 ? 2 : all.applyAsDouble(second)))).isPresent();
    }

    /** Of a hundred courses in which a quarter of the seconds is slow by chance hardly one is taken for a clock. */
    @Test
    void chanceIsNoClock() {
        var random = new SplittableRandom(11);
        List<String> taken = new ArrayList<>();
        for (int i = 0; i < 100; i++) {
            var slow = new boolean[30];
            for (int second = 0; second < slow.length; second++) {
                slow[second] = random.nextDouble() < 0.25;
            }
            pauses(run(30, second -> slow[second] ? 200 : 2)).ifPresent(taken::add);
        }
        assertThat(taken).hasSizeLessThanOrEqualTo(3);
    }

    @Test
    void aServiceThatIsAlwaysSlowHasNoPauses() {
        assertThat(pauses(run(30, _ -> 200))).isEmpty();
    }
}
