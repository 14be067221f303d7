package kadrem.load.drive.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.Transport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.DisabledOnOs;
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

    @Test
    void whatWouldBeRunIsToldBefore() {
        Form form = Form.of("command", Map.of("command", List.of("rm", "-rf", "x")));
        assertThat(new CommandProtocol().commands(here(), List.of(form))).singleElement().asString()
                .startsWith("rm -rf x   (in ");
    }
}
