package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.DoubleStream;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FamilyTest {
    /** An item of which the strongest is said as soon as its p is at most the level. */
    private static List<Family.Item> items(double... p) {
        var items = new ArrayList<Family.Item>();
        DoubleStream.of(p).forEach(one -> items.add(level -> one <= level));
        return items;
    }

    /**
     * R 4.2.2: {@code p.adjust(c(.0005, .04, .013, .2), "holm")} is .002 .080 .039 .200: an item is said at each significance that is no
     * smaller than its adjusted p, and at none below.
     */
    @ParameterizedTest
    @CsvSource({"0.0019, 0000", "0.0021, 1000", "0.0389, 1000", "0.0391, 1010", "0.0799, 1010", "0.0801, 1110",
            "0.1999, 1110", "0.2001, 1111"})
    void itemsAreSaidAtTheLevelsOfHolmsSteps(double significance, String said) {
        List<Family.Item> items = items(0.0005, 0.04, 0.013, 0.2);
        double[] levels = Family.levels(significance, items);
        for (int i = 0; i < levels.length; i++) {
            assertThat(items.get(i).isBeyond(levels[i])).as("item %d", i).isEqualTo(said.charAt(i) == '1');
        }
    }

    @Test
    void anItemThatIsSaidKeepsTheLevelAtWhichItWas() {
        double[] levels = Family.levels(0.06, items(0.001, 0.5, 0.5));
        assertThat(levels).containsExactly(0.02, 0.03, 0.03);
        assertThat(Family.shared(0.06, levels[0])).isEqualTo(3);
        assertThat(Family.levels(0.06, List.of())).isEmpty();
    }
}
