package kadrem.load.drive.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunJournal;
import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.campaign.MeasuredRun;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Rehearsed;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.Spent;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import kadrem.load.generator.LocalLoad;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.DisabledOnOs;
import org.junit.jupiter.api.condition.EnabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.io.TempDir;

/** Programs of this machine: the shell and what comes with it. */
@DisabledOnOs(OS.WINDOWS)
class CommandDriverTest {
    @TempDir
    Path folder;

    private static Call call(Map<String, List<String>> fields) {
        return Call.of("c", "GET", "").with(Form.of("command", fields)).in("command");
    }

    private static Call shell(String script, String... more) {
        var fields = new java.util.HashMap<String, List<String>>();
        fields.put("command", List.of("sh", "-c", script));
        for (int i = 0; i < more.length; i += 2) {
            fields.put(more[i], List.of(more[i + 1]));
        }
        return call(fields);
    }

    private Address here() {
        return Rehearsed.address("command", "command:" + folder);
    }

    private RehearsedCall one(Call call) throws Exception {
        return Rehearsed.all(Rehearsed.order(here(), Access.OPEN, Rehearsed.workload(call), folder)).getFirst();
    }

    @Test
    void whatAProgramPrintsIsItsAnswerAndWhatItReadsItsQuestion() throws Exception {
        RehearsedCall made = one(shell("read line; echo \"{\\\"asked\\\": \\\"$line\\\"}\"", "input", "north-mole\n"));
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(Rehearsed.body(made)).isEqualTo("{\"asked\": \"north-mole\"}\n");
        assertThat(made.header("Content-Type")).isEqualTo("application/json");
        assertThat(made.statusWord()).isEqualTo("exit code 0");
    }

    @Test
    void exitCodesAreErrorsOfTheirOwnAndTheLastWordsAreKept() throws Exception {
        RehearsedCall made = one(shell("echo no such station >&2; exit 3"));
        assertThat(made.failure()).contains(FailureKind.UNEXPECTED_STATUS);
        assertThat(made.detail()).isEqualTo("exit code 3: no such station");
        assertThat(one(shell("exit 3", "codes", "0, 3")).failure()).isEmpty();
        RehearsedCall none = one(call(Map.of("command", List.of("./not-there"))));
        assertThat(none.failure()).contains(FailureKind.NO_CONNECTION);
        assertThat(none.detail()).contains("cannot be started").contains("not-there");
    }

    @Test
    void everyArrivalStartsAProgramInTheFolder() throws Exception {
        Call call = shell("echo {{berth}} >> started; echo {{berth}}");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)),
                List.of(new Visit("v", 1, List.of(call))));
        Load load = Load.run(new LoadOrder(here(), Access.OPEN, workload, Load.arrivals(20, 20, 4), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(Files.readAllLines(folder.resolve("started"))).hasSize(20);
    }

    @Test
    void aProgramThatDoesNotEndIsEnded() throws Exception {
        Call call = shell("echo $$ >> pids; sleep 600");
        var load = new LoadProfile.Closed(1, ThinkTime.NONE, Duration.ZERO, Duration.ofSeconds(1),
                Duration.ofMillis(300));
        Load made = Load.run(new LoadOrder(here(), Access.OPEN, Rehearsed.workload(call), load, 7, 1),
                Transport.best());
        assertThat(made.failed(FailureKind.TIMEOUT)).isPositive();
        for (String pid : Files.readAllLines(folder.resolve("pids"))) {
            Optional<ProcessHandle> handle = ProcessHandle.of(Long.parseLong(pid.strip()));
            if (handle.isPresent()) {
                handle.get().onExit().get(20, java.util.concurrent.TimeUnit.SECONDS);
            }
        }
    }

    /** The shell's own {@code times} tells the same processor time (POSIX.1-2017, XCU 2.14, times), to a hundredth of a second. */
    @Test
    @EnabledOnOs(OS.LINUX)
    void whatAProgramHasUsedIsWhatTheShellTellsOfIt() throws Exception {
        String work = "i=0; while [ $i -lt 200000 ]; do i=$((i+1)); done";
        DriverOrder order = Rehearsed.order(here(), Access.OPEN,
                Rehearsed.workload(shell(work + "; times")), folder);
        try (Driver driver = Drivers.open(order); Rehearser rehearser = driver.newRehearser()) {
            RehearsedCall made = rehearser.call("v", 0,
                    new CallValues(new LoadStream(order.workload(), 0, 7).newDraw(), 0));
            assertThat(made.failure()).as(made.detail()).isEmpty();
            double told = 0;
            for (String part : Rehearsed.body(made).lines().findFirst().orElseThrow().split(" ")) {
                String[] minutesAndSeconds = part.replace("s", "").split("m");
                told += 60 * Double.parseDouble(minutesAndSeconds[0]) + Double.parseDouble(minutesAndSeconds[1]);
            }
            Spent spent = driver.spent().orElseThrow();
            assertThat(spent.processorNanos() / 1e9).isGreaterThanOrEqualTo(told - 0.01).isLessThan(told + 0.1);
            assertThat(spent.ended()).isEqualTo(1);
            // nothing that was linked with a C library runs in less than a quarter of a mebibyte; a shell takes a few (common
            // practice, no source), and Kadrem's own memory is not the shell's
            assertThat(spent.peakBytes()).isBetween(256L * 1024, 16L * 1024 * 1024);
            assertThat(driver.spent().orElseThrow().peakBytes()).isZero();
        }
    }

    @Test
    @EnabledOnOs(OS.LINUX)
    void aRunTellsWhatItsProgramsCost() throws Exception {
        Call call = shell("i=0; while [ $i -lt 20000 ]; do i=$((i+1)); done");
        var load = new LoadProfile.Closed(1, ThinkTime.NONE, Duration.ofSeconds(1), Duration.ofSeconds(3),
                Duration.ofSeconds(20));
        var telling = new MeasuredRun.Telling(RunJournal.NOT_KEPT, _ -> {
        }, Map.of(), java.util.Set.of(kadrem.core.study.Metric.P99), 0);
        RunFigures figures;
        try (MeasuredRun run = MeasuredRun.prepare(LocalLoad.MAKER,
                new LoadOrder(here(), Access.OPEN, Rehearsed.workload(call), load, 7, 1), OptionalLong.empty(),
                () -> true, telling, new Secrets(Map.of(), folder))) {
            figures = run.run().figures();
        }
        assertThat(figures.failedTotal()).isZero();
        // one program after another: together they are on a processor for less than the time that is measured
        assertThat(figures.value(Metric.CPU_PER_THOUSAND).orElseThrow() * figures.good() / 1000).isBetween(100.0,
                4000.0);
        assertThat(figures.value(Metric.PEAK_MEMORY).orElseThrow()).isGreaterThan(256 * 1024);
    }

    /** The shell waits for a program that has a buffer of 48 MiB (POSIX.1-2017, XCU, dd: bs is the size of its only buffer). */
    @Test
    @EnabledOnOs(OS.LINUX)
    void theMemoryOfAProgramIsThatOfTheLargestOneThatItStarts() throws Exception {
        long mebibyte = 1024 * 1024;
        DriverOrder order = Rehearsed.order(here(), Access.OPEN,
                Rehearsed.workload(shell("dd if=/dev/zero of=/dev/null bs=48M count=100 2>&-; true")), folder);
        try (Driver driver = Drivers.open(order); Rehearser rehearser = driver.newRehearser()) {
            RehearsedCall made = rehearser.call("v", 0,
                    new CallValues(new LoadStream(order.workload(), 0, 7).newDraw(), 0));
            assertThat(made.failure()).as(made.detail()).isEmpty();
            assertThat(driver.spent().orElseThrow().peakBytes()).isBetween(48 * mebibyte, 64 * mebibyte);
        }
    }

    @Test
    void whatTheSystemTellsIsTheProgramsOnlyWhereItIsMoreThanKadremHad() {
        assertThat(ProgramMemory.known(70, 500, 500)).isEqualTo(70);
        assertThat(ProgramMemory.known(70, 600, 500)).isEqualTo(600);
        assertThat(ProgramMemory.known(0, 500, 500)).isEqualTo(-1);
        assertThat(ProgramMemory.known(0, 500, 0)).as("Kadrem's own is not known").isEqualTo(-1);
    }

    @Test
    void aProgramThatASignalEndsTellsItsNumber() throws Exception {
        assertThat(one(shell("kill -TERM $$")).detail()).startsWith("exit code 143");
    }

    @Test
    void whatWouldBeRunIsToldBefore() {
        Form form = Form.of("command", Map.of("command", List.of("rm", "-rf", "x")));
        assertThat(new CommandProtocol().reaches("c", here(), List.of(form))).singleElement()
                .satisfies(reach -> assertThat(reach.words()).startsWith("c, call: rm -rf x   (in "));
    }
}
