package kadrem.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.HashMap;
import java.util.List;
import java.util.Map;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Studies;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RoundsTest {
    @Test
    void everyRoundHoldsEveryCandidateOnceInAnOrderFixedByTheSeed() {
        List<String> candidates = List.of("a", "b", "c");
        for (int round = 1; round <= 20; round++) {
            assertThat(Rounds.order(candidates, 5, round)).containsExactlyInAnyOrderElementsOf(candidates)
                    .isEqualTo(Rounds.order(candidates, 5, round));
        }
    }

    /** Williams 1949: in a square each candidate stands in each place, and directly after each other one, equally often. */
    @ParameterizedTest
    @CsvSource({"2, 2", "3, 6", "4, 4", "5, 10", "6, 6"})
    void roundsComeInBalancedSquares(int candidates, int rows) {
        List<String> ids = List.of("a", "b", "c", "d", "e", "f").subList(0, candidates);
        for (int seed = 1; seed <= 5; seed++) {
            Map<String, Integer> places = new HashMap<>();
            Map<String, Integer> after = new HashMap<>();
            for (int round = 2 * rows + 1; round <= 3 * rows; round++) {
                List<String> order = Rounds.order(ids, seed, round);
                for (int i = 0; i < candidates; i++) {
                    places.merge(order.get(i) + i, 1, Integer::sum);
                    if (i > 0) {
                        after.merge(order.get(i - 1) + order.get(i), 1, Integer::sum);
                    }
                }
            }
            assertThat(places).hasSize(candidates * candidates);
            assertThat(places.values()).containsOnly(rows / candidates);
            assertThat(after).hasSize(candidates * (candidates - 1));
            assertThat(after.values()).containsOnly(rows / candidates);
        }
    }

    /** 6,000 rounds over 6 orders: each as often as every other. */
    @Test
    void allOrdersAreEquallyLikely() {
        Map<List<String>, Integer> seen = new HashMap<>();
        for (int round = 1; round <= 6000; round++) {
            seen.merge(Rounds.order(List.of("a", "b", "c"), 99, round), 1, Integer::sum);
        }
        assertThat(seen).hasSize(6);
        assertThat(seen.values()).allSatisfy(count -> assertThat((double) count).isCloseTo(1000, within(116.0)));
    }

    /** Smallest two-sided p of n rounds is 2 / 2^n, and Holm multiplies the smallest by the number of comparisons. */
    @ParameterizedTest
    @CsvSource({"1, 6", "3, 7", "6, 8", "12, 9"})
    void knowsHowManyRoundsCanSettleAnything(int comparisons, int rounds) {
        assertThat(Rounds.neededToSettle(comparisons, 0.05)).isEqualTo(rounds);
        assertThat(Rounds.neededToSettle(comparisons, Look.ofEnd(0.05))).as("what is kept back costs none")
                .isEqualTo(rounds);
    }

    @Test
    void theLoadDigestChangesWithTheLoadAndOnlyWithIt() {
        MeasuredStudy study = Studies.two();
        assertThat(LoadDigest.of(Studies.two())).isEqualTo(LoadDigest.of(study)).hasSize(16);
        LoadProfile.Open poisson = StreamTest.open(100, LoadProfile.Spacing.POISSON, 1, 10);
        LoadProfile.Open constant = StreamTest.open(100, LoadProfile.Spacing.CONSTANT, 1, 10);
        assertThat(LoadDigest.of(Studies.withLoad(poisson))).isNotEqualTo(LoadDigest.of(Studies.withLoad(constant)));
        var renamed = new MeasuredStudy("another name", study.question(), study.candidates(), study.workload(),
                study.load(),
                study.plan());
        assertThat(LoadDigest.of(renamed)).isEqualTo(LoadDigest.of(study));
    }
}
