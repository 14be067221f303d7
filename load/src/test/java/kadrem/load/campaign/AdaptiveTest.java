package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.plan.LoadDigest;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.generator.LocalLoad;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** An adaptive plan ends when every deciding pair is settled, and not before. Nothing is listening: a run that is made fails. */
class AdaptiveTest {
    @TempDir
    private Path folder;
    private final MemoryStore store = new MemoryStore();

    private static MeasuredStudy study(OptionalInt adaptive) {
        List<Candidate> candidates = List.of("a", "b").stream().map(id -> new Candidate(id, id,
                new Address("127.0.0.1", 1, ""), Optional.empty(), "/", Optional.empty(), Optional.empty())).toList();
        return new MeasuredStudy("s", new Question("?", "a", 0.05, List.of(new Question.Decider(Metric.P99, 0.1))),
                candidates,
                new Workload(List.of(), List.of(new Visit("v", 1, List.of(Call.of("c", "GET", "/"))))),
                new LoadProfile.Open(10, LoadProfile.Spacing.CONSTANT, 1, Duration.ZERO, Duration.ofSeconds(1),
                        Duration.ofSeconds(1)),
                new Plan(6, 1, Duration.ZERO, Duration.ZERO, false, adaptive));
    }

    /** Rounds in which b is faster by a share that varies a little. */
    private void keep(MeasuredStudy study, int rounds) {
        for (int round = 1; round <= rounds; round++) {
            for (String id : List.of("a", "b")) {
                double value = id.equals("a") ? 20e6 : 12e6 * (1 + 0.01 * (round * 7 % 5));
                store.replace(RunRecord.begun(new RunIdentity(id + round, round, id, 1, 1, LoadDigest.of(study),
                        Instant.EPOCH.plusSeconds(round), Map.of(), Optional.empty()), RunRecord.Processes.NONE)
                        .withElsewhere(RunFigures.elsewhere(Map.of(Metric.P99, value)))
                        .withOutcome(RunOutcome.COMPLETE, "", Instant.EPOCH.plusSeconds(round)));
            }
        }
    }

    private Campaign campaign(MeasuredStudy study) {
        return new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                mock(CampaignListener.class));
    }

    @Test
    void nothingFurtherIsMeasuredOnceAllIsSettled() {
        MeasuredStudy study = study(OptionalInt.of(30));
        keep(study, 14);
        Campaign campaign = campaign(study);
        assertThat(campaign.run(30)).isEmpty();
        assertThat(campaign.isSettled()).isTrue();
    }

    @Test
    void whileSomethingIsOpenItGoesOn() {
        MeasuredStudy study = study(OptionalInt.of(30));
        keep(study, 6);
        Campaign campaign = campaign(study);
        assertThat(campaign.isSettled()).as("six rounds are too few for a test that is valid at any stop").isFalse();
        assertThat(campaign.run(7)).hasSize(2).allMatch(run -> run.round() == 7);
    }

    @Test
    void aFixedPlanIsMeasuredToItsEndWhateverIsSeen() {
        MeasuredStudy study = study(OptionalInt.empty());
        keep(study, 14);
        Campaign campaign = campaign(study);
        assertThat(campaign.isSettled()).isFalse();
        assertThat(campaign.run(15)).hasSize(2);
    }
}
