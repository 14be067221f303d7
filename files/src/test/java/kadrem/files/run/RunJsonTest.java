package kadrem.files.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.Distribution;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.GeneratorFigures;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.LongTurns;
import kadrem.core.measure.PartFigures;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunState;
import kadrem.core.measure.Soundness;
import kadrem.core.measure.TurnCause;
import kadrem.core.measure.WatchedSource;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Seal;
import kadrem.core.study.SoundnessRule;
import kadrem.fixtures.Schemas;
import org.junit.jupiter.api.Test;

class RunJsonTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final LatencySummary TIMES = new LatencySummary(900, 1.5e6, 1_000_000, 2_000_000, 3_000_000,
            4_000_000, LatencySummary.NEVER, 5_000_000, 2);

    private static final Distribution SHARES = Distribution.of(new long[]{1_000, 2_000}, new long[]{3, 4});

    private static Map<FailureKind, Long> failed() {
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        for (FailureKind kind : FailureKind.values()) {
            failed.put(kind, 1L + kind.ordinal());
        }
        return failed;
    }

    private static RunFigures figures() {
        return new RunFigures(1000, 898, failed(), 3, 20.5, 890, 12_345, 67_890, TIMES, TIMES, TIMES,
                OptionalDouble.of(1234.5), OptionalDouble.of(5e8),
                List.of(part("list")), new RunFigures.Connects(TIMES, TIMES)).withRaw(TIMES)
                .withDistribution(SHARES).withCrowds(List.of(part("readers")));
    }

    private static PartFigures part(String name) {
        return new PartFigures(name, 500, 449, failed(), OptionalLong.of(440), TIMES, TIMES, TIMES, TIMES, SHARES);
    }

    /** Everything that a run can have. */
    private static RunRecord whole() {
        Instant started = Instant.parse("2026-07-01T10:00:00Z");
        var finding = new Soundness.Finding(SoundnessRule.LATE.label(), false, 0.25, 0.05, "readers: late by a quarter",
                true,
                "readers");
        return new RunRecord(new RunIdentity("ab12cd34", 2, "loop", 1, Long.MIN_VALUE, "0011223344556677", started,
                Map.of("cpu", "y"), Optional.of(new Seal(Map.of("margin of p95", "5 %")))),
                new RunState.Ended(RunOutcome.DIED, "it ended with 137", started.plusSeconds(60)),
                List.of("out of memory"), Map.of("server", "x"), new RunRecord.Processes(1, 2, 3, 4),
                Optional.of(StreamDigest.of(List.of(
                        new StreamDigest(StreamDigest.Model.CLOSED, List.of(new StreamDigest.Part(1, -1))),
                        new StreamDigest(StreamDigest.Model.OPEN, List.of(new StreamDigest.Part(2, 3)))))),
                Optional.of(figures()), List.of(finding),
                Optional.of(new GeneratorFigures(2, OptionalDouble.of(0.5), OptionalDouble.of(0.25), TIMES, "awake",
                        List.of(new LongTurns.Of(TurnCause.TAKEN_AWAY, 2, 3_000_000, 2_000_000)))),
                List.of(new LevelResult(100, 7, Optional.of(figures()), List.of(finding), LevelResult.Step.FLAT,
                        "throughput grew by 1 %")),
                List.of(new WatchedSource("store", "ssh", "store.example", 20, 12.5, 3.5, OptionalDouble.of(-0.5),
                        OptionalDouble.of(0.25), List.of(new WatchedSource.Trouble(1.5, "no answer")))));
    }

    @Test
    void whatIsWrittenIsReadBackAsItWas() throws IOException {
        assertThat(RunJson.read(RunJson.write(whole(), Optional.empty()))).isEqualTo(whole());
    }

    /** Else the schema that is published is that of another format. */
    @Test
    void theSchemaHasEveryFieldThatIsWrittenAndNoOther() throws IOException {
        JsonNode written = JSON.readTree(RunJson.write(whole(), Optional.empty()));
        Schemas.strictly("run", written);
        assertThat(Schemas.missing("run", written)).as("only read").containsExactlyInAnyOrder("/figures/lagNanos",
                "/levels/figures/lagNanos");
    }

    @Test
    void fieldsOfOthersSurvive() throws IOException {
        ObjectNode before = (ObjectNode) JSON.readTree(RunJson.write(whole(), Optional.empty()));
        before.putObject("note").put("by", "another program");
        JsonNode after = JSON.readTree(RunJson.write(whole(), Optional.of(JSON.writeValueAsBytes(before))));
        assertThat(after).isEqualTo(before);
    }
}
