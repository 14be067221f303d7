package kadrem.files.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.CallTally;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.Latency;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.Phase;
import kadrem.core.measure.PartFigures;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunState;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.Soundness;
import kadrem.core.plan.StreamDigest;
import kadrem.fixtures.Programs;
import org.HdrHistogram.EncodableHistogram;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.HistogramLogReader;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RunFoldersTest {
    private static final List<String> CALLS = List.of("list", "one");
    private static final ObjectMapper JSON = new ObjectMapper();
    @TempDir
    private Path study;

    private static RunRecord record(RunOutcome outcome) {
        Instant started = Instant.parse("2026-07-01T10:00:00Z");
        return new RunRecord(new RunIdentity("ab12cd34", 2, "loop", 1, -5, "0011223344556677", started,
                Map.of("cpu", "y"), Optional.empty()),
                outcome == RunOutcome.RUNNING
                        ? new RunState.UnderWay()
                        : new RunState.Ended(outcome, "", started.plusSeconds(60)),
                List.of(), Map.of("server", "x"), new RunRecord.Processes(1, 2, 3, 4), Optional.empty(),
                Optional.empty(), List.of(), Optional.empty(), List.of(), List.of());
    }

    private static SecondTally second(int number) {
        var tally = new SecondTally(2);
        tally.second = number;
        tally.intended = 10;
        tally.busy = 3;
        tally.backlog = 1;
        for (Phase phase : Phase.values()) {
            CallTally call = tally.call(1, phase);
            boolean now = phase == (number < 1 ? Phase.WARM_UP : Phase.MEASURED);
            for (int i = 0; i < (now ? 100 : 0); i++) {
                call.sent++;
                call.good++;
                call.answered(1_000_000L * (i + 1) + 2_000, 2_000, 500_000);
                call.bytesIn += 10;
            }
            call.failed[FailureKind.TIMEOUT.ordinal()] = now ? 2 : 0;
        }
        Latency.record(tally.late, 70_000);
        Latency.record(tally.connect, 900_000_000);
        return tally;
    }

    private RunJournal begin(RunTotals totals) {
        RunJournal journal = new RunFolders(study).begin(record(RunOutcome.RUNNING), CALLS, 1);
        for (int i = 0; i < 4; i++) {
            SecondTally tally = second(i);
            totals.add(tally);
            journal.second(tally);
            journal.host(new HostSample(i, 0.25, 0, 1000, 10L * i, 5000, 2, 1, 1, 1, 0, 0, 2));
        }
        journal.exchange(
                new Exchange("one", "slow", "", 1.5, 9, 8, 200, "GET / HTTP/1.1\r\nCookie: s3cret\r\n\r\n", "x"));
        return journal;
    }

    private Path folder() {
        return study.resolve("runs/002-loop-ab12cd34");
    }

    /** The library that defines the log format reads the log; its percentiles must be those of the run's figures. */
    @Test
    void theLatencyLogHoldsTheFiguresOfTheRun() throws IOException {
        var totals = new RunTotals(CALLS, 1, 3);
        begin(totals).close();
        var sum = new Histogram(3);
        var tags = new java.util.TreeSet<String>();
        try (var in = Files.newInputStream(folder().resolve("latency.hlog"))) {
            var reader = new HistogramLogReader(in);
            for (EncodableHistogram next = reader.nextIntervalHistogram(); next != null; next = reader
                    .nextIntervalHistogram()) {
                tags.add(next.getTag());
                if (next.getTag().equals("one")) {
                    sum.add((org.HdrHistogram.AbstractHistogram) next);
                }
            }
        }
        RunFigures figures = totals.figures();
        assertThat(tags).containsExactly("connect", "late", "one", "one/late", "one/raw", "one/service", "warm-up/one",
                "warm-up/one/late", "warm-up/one/raw", "warm-up/one/service");
        assertThat(sum.getTotalCount()).isEqualTo(figures.good()).isEqualTo(300);
        // the log has the times; the calls that have none stand in the figures
        assertThat(LatencySummary.of(sum, figures.response().lacking(), 0)).isEqualTo(figures.response());
        assertThat(figures.response().lacking()).isPositive();
        assertThat(figures.response().p99()).as("more than one call in a hundred got no answer")
                .isEqualTo(LatencySummary.NEVER);
    }

    @Test
    void aStudyIsMeasuredByOneAtATime() throws IOException {
        assertThat(StudyLock.isFree(study)).isTrue();
        try (StudyLock _ = StudyLock.take(study)) {
            assertThat(StudyLock.isFree(study)).isFalse();
            assertThatThrownBy(() -> StudyLock.take(study)).isInstanceOf(IOException.class).hasMessageContaining(
                    "being measured by another Kadrem (process " + ProcessHandle.current().pid() + ")");
        }
        assertThat(StudyLock.isFree(study)).isTrue();
        assertThat(study.resolve(".measured-now")).as("nothing is left of it").doesNotExist();
    }

    /** A record that came with a study may name no place outside it, where it would be written when it is closed. */
    @Test
    void aRecordThatNamesAnotherPlaceIsNotRead() throws IOException {
        begin(new RunTotals(CALLS, 1, 3)).close();
        Path record = folder().resolve("run.json");
        Files.writeString(record, Files.readString(record).replace("\"ab12cd34\"", "\"/../../../victim\""));
        RunFolders.Found found = new RunFolders(study).find();
        assertThat(found.runs()).isEmpty();
        assertThat(found.unreadable()).singleElement().asString().contains("the field id is no name of a run");
    }

    @Test
    void theSecondsAreReadBack() throws IOException {
        begin(new RunTotals(CALLS, 1, 3)).close();
        List<SecondSummary> seconds = RunReader.seconds(folder());
        assertThat(seconds).hasSize(4);
        SecondSummary last = seconds.getLast();
        assertThat(last.second()).isEqualTo(3);
        assertThat(last.sent()).isEqualTo(100);
        assertThat(last.intended()).isEqualTo(10);
        assertThat(last.failed().get(FailureKind.TIMEOUT)).isEqualTo(2);
        assertThat(last.busy()).isEqualTo(3);
        // 100 answers after 1 to 100 ms, and two that never came: the 97th of 102 took 97 ms, the 101st has no time
        assertThat((double) last.p95()).isCloseTo(97e6, within(1e5));
        assertThat(last.p99()).isEqualTo(LatencySummary.NEVER);
        assertThat((double) last.lateP99()).isCloseTo(70_000, within(200.0));
    }

    /** What is on disk while the run is under way is all that a killed Kadrem leaves. */
    @Test
    void aRunThatWasCutOffIsReadableToItsLastSecond() throws IOException {
        begin(new RunTotals(CALLS, 1, 3));
        Path csv = folder().resolve("seconds.csv");
        Files.writeString(csv, Files.readString(csv) + "4,measu");
        assertThat(RunReader.seconds(folder())).hasSize(4);
        var store = new RunFolders(study);
        assertThat(store.runs()).singleElement()
                .satisfies(run -> assertThat(run.outcome()).isEqualTo(RunOutcome.RUNNING));
        store.replace(record(RunOutcome.RUNNING).withOutcome(RunOutcome.CUT_OFF, "cut", Instant.now()));
        assertThat(store.runs().getFirst().outcome()).isEqualTo(RunOutcome.CUT_OFF);
    }

    @Test
    void theRecordComesBackAsItWasAndUnknownFieldsSurvive() throws IOException {
        var totals = new RunTotals(CALLS, 1, 3);
        RunJournal journal = begin(totals);
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        for (FailureKind kind : FailureKind.values()) {
            failed.put(kind, (long) kind.ordinal());
        }
        var latency = new LatencySummary(1, 2.5, 3, 4, 5, 6, 7, 8);
        var figures = new RunFigures(10, 9, failed, 1, 3, 9, 100, 200, latency, latency, latency,
                OptionalDouble.of(12.5), OptionalDouble.empty(),
                List.of(new PartFigures("one", 10, 9, failed, latency, latency)));
        RunRecord whole = record(RunOutcome.RUNNING)
                .withResult(new StreamDigest(StreamDigest.Model.CLOSED, List.of(new StreamDigest.Part(3, -7))), figures,
                        List.of(new Soundness.Finding("schedule lag", false, 3, 2, "late")))
                .withOutcome(RunOutcome.COMPLETE, "", Instant.parse("2026-07-01T10:01:00Z"))
                .withLastOutput(List.of("<b>bye</b>"));
        Path file = folder().resolve("run.json");
        ObjectNode foreign = (ObjectNode) JSON.readTree(file.toFile());
        foreign.put("note-of-another-tool", "keep me");
        JSON.writeValue(file.toFile(), foreign);
        journal.record(whole);
        journal.close();
        assertThat(new RunFolders(study).runs()).containsExactly(whole);
        assertThat(JSON.readTree(file.toFile()).path("note-of-another-tool").asText()).isEqualTo("keep me");
    }

    @Test
    void exchangesAreLinesOfJsonWithoutSecrets() throws IOException {
        begin(new RunTotals(CALLS, 1, 3)).close();
        List<String> lines = Files.readAllLines(folder().resolve("exchanges.jsonl"));
        assertThat(lines).hasSize(1);
        JsonNode exchange = JSON.readTree(lines.getFirst());
        assertThat(exchange.path("request").asText()).contains("Cookie: (removed)").doesNotContain("s3cret");
        assertThat(exchange.path("call").asText()).isEqualTo("one");
    }

    @Test
    void aFolderThatIsNoRunIsNamedAndLeftOut() throws IOException {
        begin(new RunTotals(CALLS, 1, 3)).close();
        Files.createDirectories(study.resolve("runs/stray"));
        Files.createDirectories(study.resolve("runs/torn"));
        Files.writeString(study.resolve("runs/torn/run.json"), "{\"kadremRun\": 1, \"id\": ");
        RunFolders.Found found = new RunFolders(study).find();
        assertThat(found.runs()).hasSize(1);
        assertThat(found.unreadable()).hasSize(2).anySatisfy(text -> assertThat(text).contains("it has no run.json"))
                .anySatisfy(text -> assertThat(text).contains("not valid JSON"));
    }

    @Test
    void aFolderThatCannotBeWrittenIsExplained() throws IOException {
        Files.writeString(study.resolve("runs"), "a file stands in the way");
        assertThatThrownBy(() -> new RunFolders(study).begin(record(RunOutcome.RUNNING), CALLS, 1))
                .isInstanceOf(UncheckedIOException.class).hasMessageContaining("cannot be written")
                .hasMessageContaining("nothing is lost");
    }

    /** A reader that shares nothing with Java decodes every file of a run folder. */
    @Test
    void aReaderWithoutJavaCanUseEveryFile() throws Exception {
        begin(new RunTotals(CALLS, 1, 3)).close();
        Path script = Path.of("src/test/resources/read_run.py");
        Process python;
        try {
            python = new ProcessBuilder("python3", script.toString(), folder().toString()).redirectErrorStream(true)
                    .start();
        } catch (IOException _) {
            Programs.orFail("python3", false);
            Assumptions.abort("there is no python3 here to read the run folder with");
            return;
        }
        String output = new String(python.getInputStream().readAllBytes());
        assertThat(python.waitFor()).as(output).isZero();
        JsonNode seen = JSON.readTree(output);
        assertThat(seen.path("candidate").asText()).isEqualTo("loop");
        assertThat(seen.path("good").asLong()).isEqualTo(300);
        assertThat(seen.path("histogramCount").asLong()).isEqualTo(300);
        assertThat(seen.path("p99Nanos").asDouble()).isCloseTo(99e6, within(1e5));
        assertThat(seen.path("hostSamples").asInt()).isEqualTo(4);
        assertThat(seen.path("exchanges").asInt()).isEqualTo(1);
    }
}
