package kadrem.core.examine;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.CallTally;
import kadrem.core.measure.LookedInto;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Studies;
import org.junit.jupiter.api.Test;

/** What older records do not tell is not made up; those of real services are in the tests of module work. */
class SignaturesTest {
    private final MeasuredStudy study = Studies.two();

    /** A rising load, of which each answer has so many bytes. */
    private List<Signature> of(long bytesEach, long atTheEnd) {
        var view = new RunView.Builder(Selection.ALL);
        for (int second = 0; second < 12; second++) {
            long calls = 10 + 10L * second;
            long bytes = calls * (second < 8 ? bytesEach : atTheEnd);
            view.counts(second, 1, Phase.MEASURED, "look", new CallView.Counts(calls, calls, Map.of(), 0, bytes, 0,
                    Map.of(), new CallView.Traits(bytes, 0, new LookedInto())));
        }
        for (int second = 0; second < 12; second++) {
            CallTally call = new SecondTally(1).call(0, Phase.MEASURED);
            for (int i = 0; i < 10 + 10 * second; i++) {
                call.answered(2_000_000, 0, 2_000_000);
            }
            view.response(second, Phase.MEASURED, "look", call.response());
            view.service(second, Phase.MEASURED, "look", call.service());
        }
        return Signatures.ofRun(view.build(), List.of(), study.candidates().getFirst(), study, Optional.empty());
    }

    @Test
    void aRunThatDoesNotTellItsSizesHasNoneThatShrink() {
        assertThat(of(0, 0)).isEmpty();
    }

    @Test
    void answersThatAreTheSameUnderMoreLoadDoNotShrink() {
        assertThat(of(700, 700)).isEmpty();
        assertThat(of(700, 400)).extracting(Signature::kind).containsExactly(Signature.Kind.SHRINKING);
    }
}
