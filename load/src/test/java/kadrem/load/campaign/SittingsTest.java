package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

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
import kadrem.core.study.Seal;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

/** A further sitting is one of another day, another start of the system, or another host. */
class SittingsTest {
    private static final Instant MONDAY = Instant.parse("2026-11-30T10:00:00Z");

    private static MeasuredStudy study(double margin) {
        List<Candidate> candidates = List.of("a", "b").stream().map(id -> new Candidate(id, id,
                new Address("127.0.0.1", 1, ""), Optional.empty(), "/", Optional.empty(), Optional.empty())).toList();
        return new MeasuredStudy("s", new Question("?", "a", 0.05, List.of(new Question.Decider(Metric.P99, margin))),
                candidates,
                new Workload(List.of(), List.of(new Visit("v", 1, List.of(Call.of("c", "GET", "/"))))),
                new LoadProfile.Open(10, LoadProfile.Spacing.CONSTANT, 1, Duration.ZERO, Duration.ofSeconds(1),
                        Duration.ofSeconds(1)),
                new Plan(3, 1, Duration.ZERO));
    }

    private static List<RunRecord> runs(MeasuredStudy study, int first, int rounds, Instant day, String boot) {
        var runs = new ArrayList<RunRecord>();
        for (int round = first; round < first + rounds; round++) {
            for (String id : List.of("a", "b")) {
                runs.add(RunRecord.begun(new RunIdentity(id + round, round, id, 1, 1, LoadDigest.of(study),
                        day.plusSeconds(round), Map.of("boot", boot), Optional.of(Seal.of(study))),
                        RunRecord.Processes.NONE)
                        .withElsewhere(RunFigures.elsewhere(Map.of(Metric.P99, 20e6)))
                        .withOutcome(RunOutcome.COMPLETE, "", day.plusSeconds(round + 1)));
            }
        }
        return runs;
    }

    @Test
    void aSittingIsOneDayAndOneStartOfTheSystem() {
        MeasuredStudy study = study(0.1);
        List<RunRecord> runs = runs(study, 1, 3, MONDAY, "c0ffee");
        String monday = runs.getFirst().sitting();
        assertThat(monday).isEqualTo("2026-11-30, boot c0ffee");
        assertThat(Sittings.objection(study, runs, monday).orElseThrow()).contains("would be the same sitting");
        assertThat(Sittings.objection(study, runs, "2026-12-01, boot c0ffee")).isEmpty();
        assertThat(Sittings.objection(study, runs, "2026-11-30, boot decade")).isEmpty();
        assertThat(Sittings.objection(study, runs.subList(0, 4), "2026-12-01, boot c0ffee").orElseThrow())
                .contains("not through yet");
        assertThat(Sittings.objection(study, List.of(), monday)).isPresent();
    }

    @Test
    void aSittingHasTheRoundsOfThePlanAndIsGoneOnWithWhereItWasLeft() {
        MeasuredStudy study = study(0.1);
        List<RunRecord> runs = new ArrayList<>(runs(study, 1, 3, MONDAY, "c0ffee"));
        String tuesday = "2026-12-01, boot c0ffee";
        assertThat(Sittings.wanted(study, runs, tuesday)).isEqualTo(6);
        runs.addAll(runs(study, 4, 1, MONDAY.plus(Duration.ofDays(1)), "c0ffee"));
        assertThat(Sittings.wanted(study, runs, tuesday)).as("one of its rounds is there").isEqualTo(6);
        assertThat(OpenRun.of(study, runs, 6)).hasSize(4);
        assertThat(Sittings.changes(study, runs)).isEmpty();
        assertThat(Sittings.changes(study(0.2), runs))
                .containsExactly("margin of p99 from 10 % to 20 % after 4 rounds");
    }
}
