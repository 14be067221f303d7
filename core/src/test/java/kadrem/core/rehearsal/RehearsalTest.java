package kadrem.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Agreement;
import kadrem.core.study.Bytes;
import org.junit.jupiter.api.Test;

class RehearsalTest {
    private static RehearsedCall call(Optional<FailureKind> failure) {
        return new RehearsedCall("v", "c", "", 200, List.of(), 0, Bytes.of(new byte[0]), Bytes.of(new byte[0]), "",
                new Timeline(1, 2, 3, 4, 5, 6), failure, "");
    }

    private static Rehearsal rehearsal(Optional<FailureKind> failure, Difference... differences) {
        return new Rehearsal(Instant.EPOCH, "d",
                List.of(new Rehearsal.OfCandidate("a", List.of(call(Optional.empty())), ""),
                        new Rehearsal.OfCandidate("b", List.of(call(failure)), "")),
                List.of(differences));
    }

    @Test
    void aDifferenceBlocksUntilItIsAccepted() {
        var difference = new Difference("c", "b", "$.id", "1", "2");
        Rehearsal rehearsal = rehearsal(Optional.empty(), difference);
        assertThat(rehearsal.agrees(Agreement.EXACT)).isFalse();
        assertThat(rehearsal.objection(Agreement.EXACT).orElseThrow())
                .contains("1 difference", "c, b: $.id is 2, and 1 for the baseline");
        var accepting = new Agreement(List.of(), List.of(), 0, false,
                List.of(new Agreement.Accepted("c", "$.id", "counted apart")));
        assertThat(rehearsal.agrees(accepting)).isTrue();
        assertThat(rehearsal.objection(accepting)).isEmpty();
    }

    @Test
    void aCallThatIsNotGoodIsNoAgreement() {
        assertThat(rehearsal(Optional.of(FailureKind.TIMEOUT)).agrees(Agreement.EXACT)).isFalse();
        assertThat(rehearsal(Optional.empty()).agrees(Agreement.EXACT)).isTrue();
        assertThat(call(Optional.empty()).timeline().total()).isEqualTo(21);
    }
}
