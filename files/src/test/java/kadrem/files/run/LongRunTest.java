package kadrem.files.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.stream.IntStream;

import kadrem.core.examine.RunView;
import kadrem.core.examine.Selection;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.CallTally;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.Phase;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A long run is looked at minute by minute, and its figures are those of its seconds. */
class LongRunTest {
    private static final HostSeries CPU = new HostSeries("candidate", "CPU", "% of a core", SeriesRole.CPU);

    @TempDir
    private Path study;

    /** Writes a run of made-up figures through the same journal as a real one. */
    static Path write(Path study, int seconds, int calls, int warmUp) {
        var record = RunRecord.begun(new RunIdentity("ab12cd34", 1, "loop", 1, 5, "d",
                Instant.parse("2026-07-01T10:00:00Z"), Map.of(), Optional.empty()), RunRecord.Processes.NONE);
        List<String> names = IntStream.range(0, calls).mapToObj(i -> "call-" + i).toList();
        var random = new SplittableRandom(7);
        var folders = new RunFolders(study);
        try (RunJournalCloser journal = new RunJournalCloser(folders.begin(record, names, warmUp))) {
            for (int i = -5; i < 0; i++) {
                journal.journal().watched(reading(i, 1));
            }
            var tally = new SecondTally(calls);
            for (int second = 0; second < seconds; second++) {
                tally.clear();
                tally.second = second;
                tally.intended = calls * 3L;
                tally.busy = second % 2 == 0 ? 7 : 2;
                tally.connect.recordValue(150_000 + second);
                for (int call = 0; call < calls; call++) {
                    CallTally one = tally.call(call, second < warmUp ? Phase.WARM_UP : Phase.MEASURED);
                    for (int i = 0; i < 3; i++) {
                        long nanos = (long) (2e6 / (0.02 + random.nextDouble()));
                        one.response().recordValue(nanos);
                        one.service().recordValue(nanos / 2);
                        one.sent++;
                        one.good++;
                        one.bytesIn += 300;
                    }
                }
                journal.journal().second(tally);
                journal.journal().watched(reading(second + 1, 40 + second % 7));
            }
        }
        return study.resolve("runs").resolve(record.folderName());
    }

    private record RunJournalCloser(RunJournal journal) implements AutoCloseable {
        @Override
        public void close() {
            journal.close();
        }
    }

    private static WatchReading reading(double at, double value) {
        return new WatchReading(at, "candidate", List.of(new WatchReading.Value(CPU, value)), "");
    }

    @Test
    void theMinutesAddUpToTheSeconds() throws Exception {
        Path run = write(study, 2_003, 2, 90);
        RunView minutes = RunReader.view(run, Selection.ALL);
        assertThat(minutes.step()).isEqualTo(60);
        assertThat(minutes.seconds()).hasSize(34);
        assertThat(minutes.seconds().getLast().sent()).isEqualTo(23 * 6);
        assertThat(minutes.seconds().get(3).busy()).as("the mean of 7 and 2 in turn, 4.5").isEqualTo(5);
        WatchView watch = RunReader.watch(run);
        assertThat(watch.courses()).singleElement().satisfies(course -> {
            assertThat(course.between(-10, 0)).containsExactly(1, 1, 1, 1, 1);
            assertThat(course.between(0, 1e6)).hasSize(34);
            assertThat(course.between(0, 60)[0]).isCloseTo(43, within(1.0));
        });

        Selection hour = Selection.ALL.between(600, 1_200);
        Selection one = hour.without(Set.of("call-1"));
        RunView part = RunReader.view(run, hour);
        RunView alone = RunReader.view(run, one);
        assertThat(part.seconds()).hasSize(34);

        Files.delete(run.resolve("minutes.csv"));
        for (var same : Map.of(hour, part, one, alone).entrySet()) {
            RunView exact = RunReader.view(run, same.getKey());
            assertThat(same.getValue().total().sent()).isEqualTo(exact.total().sent()).isPositive();
            assertThat(same.getValue().total().response().getValueAtPercentile(99))
                    .isEqualTo(exact.total().response().getValueAtPercentile(99));
            assertThat(same.getValue().calls()).hasSameSizeAs(exact.calls());
            assertThat(same.getValue().connect().getTotalCount()).isEqualTo(exact.connect().getTotalCount())
                    .isEqualTo(600);
        }
        RunView seconds = RunReader.view(run, Selection.ALL);
        assertThat(seconds.step()).isEqualTo(1);
        assertThat(seconds.seconds()).hasSize(2_003);
        assertThat(minutes.total().sent()).isEqualTo(seconds.total().sent()).isEqualTo((2_003 - 90) * 6L);
        assertThat(minutes.connect().getTotalCount()).isEqualTo(seconds.connect().getTotalCount()).isEqualTo(2_003);
        assertThat(minutes.total().bytesIn()).isEqualTo(seconds.total().bytesIn());
        assertThat(minutes.countedSeconds()).isEqualTo(seconds.countedSeconds()).isEqualTo(2_003 - 90);
        for (int i = 0; i < 2; i++) {
            for (double percentile : new double[]{50, 90, 99, 99.9, 100}) {
                assertThat(minutes.calls().get(i).response().getValueAtPercentile(percentile))
                        .isEqualTo(seconds.calls().get(i).response().getValueAtPercentile(percentile));
            }
            assertThat(minutes.calls().get(i).service().getTotalCount())
                    .isEqualTo(seconds.calls().get(i).service().getTotalCount());
        }
    }

    @Test
    void aShortRunHasNoOverviewAndOneThatWasCutOffIsReadBySeconds() throws Exception {
        Path brief = write(study.resolve("a"), 40, 1, 5);
        try (var files = Files.list(brief)) {
            assertThat(files.map(file -> file.getFileName().toString()))
                    .noneMatch(name -> name.contains("minutes") || name.endsWith(".tmp"));
        }
        Path middling = write(study.resolve("b"), 400, 1, 5);
        assertThat(middling.resolve("minutes.csv")).exists();
        assertThat(RunReader.view(middling, Selection.ALL).step()).as("few enough to be looked at by seconds")
                .isEqualTo(1);
        Path cut = write(study.resolve("c"), 1_900, 1, 5);
        Files.move(cut.resolve("minutes.csv"), cut.resolve("minutes.csv.tmp"));
        assertThat(RunReader.view(cut, Selection.ALL).step()).isEqualTo(1);
    }
}
