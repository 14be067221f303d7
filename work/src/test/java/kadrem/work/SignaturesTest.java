package kadrem.work;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;

import kadrem.core.examine.Selection;
import kadrem.core.examine.Signature;
import kadrem.core.examine.Signatures;
import kadrem.core.measure.Exchange;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.load.gate.Consent;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.run.RunFolders;
import kadrem.files.run.RunReader;
import kadrem.files.study.StudyFile;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Secrets;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadRun;
import kadrem.load.net.Transport;
import kadrem.standins.habits.Habit;
import kadrem.standins.habits.HabitService;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/**
 * Each signature is found in the record of a service that has the habit, and in the record of one that has not, under the same load, nothing is
 * found. All runs are real and go on at the same time.
 */
@Timeout(value = 120, unit = TimeUnit.SECONDS)
class SignaturesTest {
    private static final String OPEN = "{model: open, arrivalsPerSecond: 40, connections: 4, warmUp: 1s, measured: 12s, timeout: 10s}";
    private static final String LONG = OPEN.replace("measured: 12s", "measured: 20s");
    private static final String RISING = "{model: open, connections: 4, warmUp: 1s, timeout: 10s,"
            + " segments: [{ramp: 12s, to: 120}]}";
    /** Only users who ask again at once are taken for a conversation, in which acknowledgements are put off. */
    private static final String TURN = "{model: closed, users: 2, thinkTime: 0s, warmUp: 1s, measured: 6s, timeout: 10s}";
    private static final String USERS = "{model: closed, users: 16, thinkTime: 100ms, warmUp: 1s, measured: 8s, timeout: 2s}";
    private static final String MORE_USERS = "{model: closed, warmUp: 0s, thinkTime: 100ms, timeout: 2s,"
            + " segments: [{ramp: 12s, to: 16}]}";
    private static final String LOOK = "{name: look, path: \"/berths/{{dock}}\"}";
    private static final String RESERVE = LOOK + ", {name: reserve, method: POST, path: /reservations, body: \""
            + "berth ".repeat(400) + "\"}";

    @TempDir
    private Path folder;

    private record Made(String name, List<Signature> found) {
    }

    private MeasuredStudy study(String name, int port, boolean tls, String wire, String calls, String load)
            throws Exception {
        Path home = Files.createDirectories(folder.resolve(name));
        Files.createDirectories(home.resolve("values"));
        var docks = new StringBuilder("dock\n");
        for (int i = 0; i < 60; i++) {
            docks.append("dock").append(i).append('\n');
        }
        Files.writeString(home.resolve("values/docks.csv"), docks);
        Files.writeString(home.resolve("study.yaml"),
                """
                        kadrem: 1
                        name: Habits
                        question: {text: "Which one?", decide: [{metric: p50}]}
                        candidates:
                          - {id: board, address: "%s://127.0.0.1:%d"%s%s}
                          - {id: other, address: "http://127.0.0.1:1"}
                        workload:
                          values: [{name: dock, file: values/docks.csv}]
                          visits: [{name: visit, calls: [%s]}]
                        load: %s
                        """.formatted(tls ? "https" : "http", port, tls ? ", tls: {verify: false}" : "", wire, calls,
                        load));
        return (MeasuredStudy) StudyFile.read(home).study();
    }

    /** Runs the load, records it as a measurement does, reads the record and looks for signatures. */
    private Made run(String name, Habit habit, boolean tls, String wire, String calls, String load) throws Exception {
        try (HabitService service = HabitService.start(habit, 0)) {
            MeasuredStudy study = study(name, service.port(), tls, wire, calls, load);
            Candidate board = study.candidates().getFirst();
            var record = RunRecord.begun(new RunIdentity("ab12cd34", 1, "board", 1, 5, "d", Instant.now(), Map.of(),
                    Optional.empty()), RunRecord.Processes.NONE);
            List<String> names = study.workload().calls().stream().map(Call::name).toList();
            Path home = folder.resolve(name);
            RunJournal journal = new RunFolders(home).begin(record, names, (int) study.load().warmUp().toSeconds());
            var order = new LoadOrder(board.address(), board.access(), study.workload(), study.load(), 5, 1);
            try (journal;
                    Driver driver = Drivers.open(new DriverOrder(order.address(), order.access(), order.workload(),
                            order.load().timeout(), new Secrets(Map.of(), home), Transport.best()));
                    LoadRun made = LoadRun.prepare(order, List.of(driver), Transport.best(), new LoadListener() {
                        @Override
                        public void second(SecondTally tally) {
                            journal.second(tally);
                        }

                        @Override
                        public void exchange(Exchange exchange) {
                            journal.exchange(exchange);
                        }
                    })) {
                made.begin(System.nanoTime() + 50_000_000);
                made.await();
            }
            Path run = home.resolve("runs").resolve(record.folderName());
            return new Made(name, Signatures.ofRun(RunReader.view(run, Selection.ALL), RunReader.exchanges(run), board,
                    study, Optional.empty()));
        }
    }

    private Callable<Made> plain(Habit habit, String calls, String load) {
        return () -> run(habit.id() + Math.abs(load.hashCode() + calls.hashCode()), habit, false, "", calls, load);
    }

    private Callable<Made> secure(Habit habit) {
        return () -> run(habit.id(), habit, true, ", wire: {connections: per-call}", LOOK, OPEN);
    }

    private static List<Made> all(List<Callable<Made>> runs) throws Exception {
        try (var threads = Executors.newFixedThreadPool(runs.size())) {
            var made = new ArrayList<Made>();
            for (Future<Made> one : threads.invokeAll(runs)) {
                made.add(one.get());
            }
            return made;
        }
    }

    @Test
    void eachHabitIsFoundInTheRecord() throws Exception {
        List<Made> made = all(List.of(plain(Habit.IN_PIECES, LOOK, TURN), plain(Habit.CLOSING, LOOK, OPEN),
                plain(Habit.EXPECTING, RESERVE, USERS), secure(Habit.FORGETFUL), plain(Habit.CACHED, LOOK, OPEN),
                plain(Habit.SHORTENING, LOOK, RISING), plain(Habit.PATIENT, LOOK, OPEN),
                plain(Habit.WRITING, LOOK, LONG), plain(Habit.SINGLE, LOOK, USERS), plain(Habit.FULL, LOOK, USERS),
                plain(Habit.FULL, LOOK, MORE_USERS)));
        assertThat(made).allSatisfy(one -> assertThat(one.found()).as(one.name()).isNotEmpty());
        assertThat(made.stream().map(one -> one.found().getFirst().kind())).containsExactly(
                Signature.Kind.IN_PIECES, Signature.Kind.CONNECTION_PER_CALL, Signature.Kind.WAITS_FOR_CONTINUE,
                Signature.Kind.NEVER_RESUMED, Signature.Kind.ALL_EQUAL, Signature.Kind.SHRINKING,
                Signature.Kind.ROUND_TIMEOUT, Signature.Kind.PAUSES, Signature.Kind.ONE_CONNECTION,
                Signature.Kind.ERRORS_FROM_CONNECTIONS, Signature.Kind.ERRORS_FROM_CONNECTIONS);
        assertThat(made).allSatisfy(one -> assertThat(one.found()).as(one.name()).hasSize(1));
    }

    @Test
    void nothingIsFoundWhereThereIsNothing() throws Exception {
        List<Made> made = all(List.of(plain(Habit.NONE, LOOK, LONG), plain(Habit.NONE, RESERVE, USERS),
                plain(Habit.NONE, LOOK, RISING), plain(Habit.NONE, LOOK, USERS), plain(Habit.NONE, LOOK, MORE_USERS),
                secure(Habit.REMEMBERING)));
        assertThat(made).allSatisfy(one -> assertThat(one.found()).as(one.name()).isEmpty());
    }

    /** As the user sees them before anything is measured: each call was made once, one after the other. */
    private List<Signature> rehearsed(Habit habit, String calls) throws Exception {
        try (HabitService service = HabitService.start(habit, 0);
                HabitService other = HabitService.start(Habit.NONE, 0)) {
            Path home = folder.resolve("rehearsed-" + habit.id());
            study("rehearsed-" + habit.id(), service.port(), false, "", calls, OPEN);
            Path file = home.resolve("study.yaml");
            Files.writeString(file, Files.readString(file).replace("http://127.0.0.1:1", "http://127.0.0.1:"
                    + other.port()));
            Consent.ofUser().own(home);
            StudyFile study = StudyFile.read(home);
            Rehearsal made = Rehearse.run(study, _ -> false, (_, _) -> {
            }).rehearsal();
            assertThat(Signatures.ofRehearsal(made.candidates().getLast(), study.study().candidates().getLast()))
                    .isEmpty();
            return Signatures.ofRehearsal(made.candidates().getFirst(), study.study().candidates().getFirst());
        }
    }

    @Test
    void aRehearsalShowsThoseOfOneCall() throws Exception {
        String several = LOOK + ", {name: next, path: \"/berths/{{dock}}\"}, {name: last, path: \"/berths/{{dock}}\"}";
        assertThat(rehearsed(Habit.IN_PIECES, several)).isNotEmpty().extracting(Signature::kind)
                .containsOnly(Signature.Kind.IN_PIECES);
        assertThat(rehearsed(Habit.CLOSING, several)).extracting(Signature::kind)
                .containsExactly(Signature.Kind.CONNECTION_PER_CALL);
        assertThat(rehearsed(Habit.EXPECTING, RESERVE)).extracting(Signature::kind)
                .containsExactly(Signature.Kind.WAITS_FOR_CONTINUE);
    }

    @Test
    void nothingIsFoundInUsersWhoTakeTurnsAtOnce() throws Exception {
        assertThat(run("turn", Habit.NONE, false, "", LOOK, TURN).found()).isEmpty();
    }
}
