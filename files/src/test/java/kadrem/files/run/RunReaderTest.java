package kadrem.files.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;

import kadrem.core.examine.RunView;
import kadrem.core.examine.Selection;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.PartFigures;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunRecord;
import org.HdrHistogram.Histogram;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The recorded runs of the demo study, read second by second, against the figures that were computed while they ran. */
class RunReaderTest {
    private static final Path DEMO = Path.of("../demo/harbour-berths");
    @TempDir
    private Path folder;

    private static List<RunRecord> runs() {
        return new RunFolders(DEMO).find().runs().stream().filter(RunRecord::hasWholeFigures).toList();
    }

    private static Path folder(RunRecord run) {
        return DEMO.resolve("runs").resolve(run.folderName());
    }

    /** The demo's runs were recorded in steps of 512 ns, those of the histograms of that time. */
    private static final double STEP = 512;

    private static void same(long read, long recorded) {
        assertThat((double) read).isCloseTo(recorded, within(STEP));
    }

    @Test
    void theSecondsAddUpToTheFiguresOfTheRun() throws Exception {
        assertThat(runs()).hasSizeGreaterThan(20);
        for (RunRecord run : runs()) {
            RunView view = RunReader.view(folder(run), Selection.ALL);
            RunFigures figures = run.figures().orElseThrow();
            assertThat(view.total().sent()).isEqualTo(figures.sent());
            assertThat(view.total().good()).isEqualTo(figures.good());
            assertThat(view.total().failedTotal()).isEqualTo(figures.failedTotal());
            assertThat(view.total().bytesIn()).isEqualTo(figures.bytesIn());
            assertThat(view.total().response().getTotalCount()).isEqualTo(figures.response().count());
            same(view.total().response().getValueAtPercentile(99), figures.response().p99());
            same(view.total().response().getMaxValue(), figures.response().max());
            assertThat(view.total().response().getMean()).isCloseTo(figures.response().mean(), within(STEP));
            same(view.total().service().getValueAtPercentile(50), figures.service().p50());
            for (PartFigures call : figures.calls()) {
                assertThat(view.calls()).filteredOn(one -> one.name().equals(call.name())).singleElement()
                        .satisfies(one -> {
                            assertThat(one.sent()).isEqualTo(call.sent());
                            same(one.response().getValueAtPercentile(95), call.response().p95());
                        });
            }
        }
    }

    @Test
    void partsOfTheTimeAddUpToTheWhole() throws Exception {
        Path run = folder(runs().getFirst());
        long whole = RunReader.view(run, Selection.ALL).total().sent();
        long first = RunReader.view(run, Selection.ALL.between(0, 20)).total().sent();
        long second = RunReader.view(run, Selection.ALL.between(20, 1000)).total().sent();
        assertThat(first).isPositive();
        assertThat(second).isPositive();
        assertThat(first + second).isEqualTo(whole);
        RunView few = RunReader.view(run, Selection.ALL.without(Set.of("tides", "reserve")));
        assertThat(few.calls()).extracting(call -> call.name()).doesNotContain("tides", "reserve").hasSize(2);
    }

    @Test
    void exchangesAndHostAreReadAndWhatWasCutOffIsLeftOut() throws Exception {
        Path run = folder(runs().getFirst());
        List<Exchange> exchanges = RunReader.exchanges(run);
        assertThat(exchanges).isNotEmpty().allSatisfy(one -> {
            assertThat(one.request()).contains("HTTP/1.1");
            assertThat(one.detail()).isNotNull();
        });
        Map<String, double[]> host = RunReader.host(run);
        assertThat(host.get("at_s")).hasSizeGreaterThan(15).isSorted();
        assertThat(Arrays.stream(host.get("candidate_memory_bytes")).min().orElseThrow()).isGreaterThan(1e6);

        Path cut = folder.resolve("exchanges.jsonl");
        String lines = Files.readString(run.resolve("exchanges.jsonl"));
        Files.writeString(cut, lines.substring(0, lines.length() - 40));
        assertThat(RunReader.exchanges(folder)).isEqualTo(exchanges.subList(0, exchanges.size() - 1));
    }

    /** What a comparison reads alone is what the whole view shows, and a log that was cut off is read up to its last whole line. */
    @Test
    void responsesAreReadAloneAndUpToWhereALogWasCutOff() throws Exception {
        Path run = folder(runs().getFirst());
        Histogram all = RunReader.responses(run);
        assertThat(all).isEqualTo(RunReader.view(run, Selection.ALL).total().response());
        for (String name : List.of("seconds.csv", "latency.hlog")) {
            Files.copy(run.resolve(name), folder.resolve(name));
        }
        Path log = folder.resolve("latency.hlog");
        List<String> lines = Files.readAllLines(log);
        String last = lines.stream().filter(line -> line.startsWith("Tag=") && !line.startsWith("Tag=w")
                && !line.contains("/service") && !line.contains("/raw") && !line.contains("/late")
                && !line.startsWith("Tag=late") && !line.startsWith("Tag=connect")).reduce((_, two) -> two)
                .orElseThrow();
        int at = lines.indexOf(last);
        Files.writeString(log, String.join("\n", lines.subList(0, at)) + "\n" + last.substring(0, last.length() - 30));
        assertThat(RunReader.responses(folder).getTotalCount()).isPositive().isLessThan(all.getTotalCount());
        assertThat(RunReader.view(folder, Selection.ALL).total().response().getTotalCount()).isPositive();
    }
}
