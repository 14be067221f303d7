package kadrem.desk.measure;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.load.campaign.Step;
import org.junit.jupiter.api.Test;

class LiveRunTest {
    private static RunRecord run(String id) {
        return RunRecord.begun(new RunIdentity(id, 1, "a", 1, 1, "d", Instant.EPOCH, Map.of(), Optional.empty()),
                new RunRecord.Processes(1, 1, 0, 0));
    }

    private static SecondSummary second(int number) {
        return new SecondSummary(number, 1, 1, 1, new EnumMap<>(FailureKind.class), 1, 1, 1, 0, 0, 0);
    }

    @Test
    void theWindowTakesACopyOfThePresent() {
        var ended = new AtomicInteger();
        var live = new LiveRun(ended::incrementAndGet, _ -> {
        });
        assertThat(live.snapshot().run()).isEmpty();
        live.runBegins(run("r1"), 1, 4, Duration.ofSeconds(100));
        live.step(run("r1"), Step.Plain.MEASURING);
        live.second(run("r1"), second(0));
        LiveRun.Snapshot before = live.snapshot();
        live.second(run("r1"), second(1));
        assertThat(before.seconds()).as("what was taken does not change").hasSize(1);
        assertThat(live.snapshot().seconds()).hasSize(2);
        assertThat(before.step()).isEqualTo("measuring");
        assertThat(before.number()).isEqualTo(1);
        assertThat(before.of()).isEqualTo(4);
        assertThat(before.left()).isLessThanOrEqualTo(Duration.ofSeconds(100)).isPositive();
        live.runEnds(run("r1"), 1, 4, Duration.ofSeconds(70));
        assertThat(ended).hasValue(1);
        live.runBegins(run("r2"), 2, 4, Duration.ZERO);
        assertThat(live.snapshot().seconds()).as("a new run begins empty").isEmpty();
        assertThat(live.snapshot().left()).isZero();
    }

    @Test
    void ofRunsThatAreMeasuredTogetherOneThatGoesOnIsShown() {
        var live = new LiveRun(() -> {
        }, _ -> {
        });
        live.prepares("checking");
        assertThat(live.snapshot().step()).isEqualTo("checking");
        live.runBegins(run("r1"), 1, 2, Duration.ZERO);
        live.runBegins(run("r2"), 2, 2, Duration.ZERO);
        live.second(run("r1"), second(0));
        live.second(run("r2"), second(0));
        live.second(run("r2"), second(1));
        assertThat(live.snapshot().underWay()).hasSize(2);
        assertThat(live.snapshot().seconds()).as("seconds of another run are not mixed in").hasSize(2);
        live.runEnds(run("r2"), 2, 2, Duration.ZERO);
        assertThat(live.snapshot().run().orElseThrow().id()).isEqualTo("r1");
        assertThat(live.snapshot().underWay()).extracting(RunRecord::id).containsExactly("r1");
        live.runEnds(run("r1"), 1, 2, Duration.ZERO);
        assertThat(live.snapshot().run().orElseThrow().id()).as("the last one stays to be seen").isEqualTo("r1");
        assertThat(live.snapshot().underWay()).isEmpty();
    }
}
