package kadrem.load.generator;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.Pacing;
import org.junit.jupiter.api.Test;

class PlacesTest {
    private static Places of(int... processors) {
        var set = new BitSet();
        for (int processor : processors) {
            set.set(processor);
        }
        return new Places(set);
    }

    @Test
    void lanesHaveTheLastProcessorsAndAtLeastAsManyAreLeft() {
        Places places = of(0, 1, 2, 3);
        assertThat(places.take(2, List.of())).containsExactly(3, 2);
        assertThat(places.shared()).isEqualTo(BitSet.valueOf(new long[]{0b0011}));
        assertThat(places.take(1, List.of())).as("the candidate needs the others").isEmpty();
    }

    @Test
    void lanesKeepOffTheProcessorsOfCandidates() {
        assertThat(of(0, 1).take(1, List.of(1))).containsExactly(0);
        assertThat(of(0, 1, 2, 3).take(2, List.of(2, 3))).containsExactly(1, 0);
        assertThat(of(0, 1, 2, 3).take(2, List.of(1, 2, 3))).as("no more are left").containsExactly(0, 3);
    }

    @Test
    void onlyProcessorsThatThisProcessMayUseAreGiven() {
        assertThat(of(2, 5).take(1, List.of())).containsExactly(5);
        assertThat(of(2).take(1, List.of())).isEmpty();
    }

    @Test
    void whatIsGivenBackIsGivenAgain() {
        Places places = of(0, 1);
        List<Integer> first = places.take(1, List.of());
        assertThat(places.take(1, List.of())).isEmpty();
        places.giveBack(first);
        assertThat(places.take(1, List.of())).isEqualTo(first);
    }

    @Test
    void pacingFitsTheHost() {
        assertThat(of(0, 1).pacing(1, true)).isEqualTo(Pacing.ALWAYS);
        assertThat(of(0, 1).pacing(1, false)).isEqualTo(Pacing.EXACT);
        assertThat(of(0).pacing(1, false)).isEqualTo(Pacing.THRIFTY);
    }

    /** A driver of a database makes its calls on threads that wait: beside the lane, and not on the processor of the candidate. */
    @Test
    void threadsThatMakeCallsKeepOffTheCandidates() {
        Places places = of(0, 1, 2, 3);
        assertThat(places.take(1, List.of(2, 3))).containsExactly(1);
        assertThat(places.callers(List.of(2, 3))).isEqualTo(BitSet.valueOf(new long[]{0b0011}));
        assertThat(places.callers(List.of())).as("where the candidate may run anywhere")
                .isEqualTo(BitSet.valueOf(new long[]{0b1111}));
        assertThat(of(0, 1).callers(List.of(0, 1))).as("no others are left")
                .isEqualTo(BitSet.valueOf(new long[]{0b0011}));
        assertThat(of(0, 1).words(1, Optional.empty(), List.of(1), true)).isEqualTo(
                "1 lane in a process of its own, never sleeping, on processor 0,"
                        + " shared with the threads that wait for answers");
    }
}
