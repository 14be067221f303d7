package kadrem.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.contains;
import static org.mockito.ArgumentMatchers.startsWith;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

import kadrem.files.run.StudyLock;
import kadrem.files.study.StudyFile;
import kadrem.load.gate.Consent;
import kadrem.work.Measurement.SelfChecking;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** What stands against a measurement is found before anything is launched, and told to every front end alike. */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class MeasurementTest {
    @TempDir
    private Path folder;
    private final MeasurementListener listener = mock(MeasurementListener.class);

    private StudyFile study(String call) throws Exception {
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: Berth board
                question:
                  text: Which one?
                  decide: [{metric: p50}]
                candidates:
                  - {id: pool, address: "http://127.0.0.1:18081", launch: {command: [sh, -c, "touch launched"]}}
                  - {id: loop, address: "http://127.0.0.1:18082", launch: {command: [sh, -c, "touch launched"]}}
                workload:
                  visits: [{name: look, calls: [%s]}]
                load: {model: closed, users: 1, warmUp: 0s, measured: 1s, timeout: 5s}
                plan: {rounds: 6, pause: 0s, idle: 0s}
                """.formatted(call));
        return StudyFile.read(folder);
    }

    private StudyFile own(String call) throws Exception {
        Consent.ofUser().own(folder);
        return study(call);
    }

    private static Order ofStudy(StudyFile file) {
        return new Order.OfStudy(file, Optional.empty());
    }

    private Measurement measurement(Order order) {
        return new Measurement(order, new SelfChecking.LeftOut(), listener);
    }

    private void nothingWasDone() {
        assertThat(folder.resolve("launched")).doesNotExist();
        assertThat(folder.resolve("runs")).doesNotExist();
        assertThat(StudyLock.isFree(folder)).isTrue();
        verify(listener, never()).runBegins(any(), anyInt(), anyInt(), any());
    }

    @Test
    void whatWaitsForTheUsersWordIsNotMeasured() throws Exception {
        StudyFile file = study("{name: one, path: /berths/7}");
        NotDone why = catchThrowableOfType(NotDone.class, () -> measurement(ofStudy(file)).run());
        assertThat(why.objection()).isInstanceOfSatisfying(Objection.Waits.class,
                waits -> assertThat(waits.why()).hasMessageContaining("touch launched"));
        assertThat(Preflight.of(file).objection()).as("the same is said without measuring").isPresent();
        nothingWasDone();
    }

    @Test
    void aCallThatCannotBeMadeIsToldByTheSelfCheckBeforeAnythingIsLaunched() throws Exception {
        StudyFile file = own("{name: one, path: /berths/7, headers: {x-key: \"{{env:NO_SUCH_BERTH_KEY}}\"}}");
        assertThatThrownBy(() -> new Measurement(ofStudy(file), new SelfChecking.Before(), listener).run())
                .isInstanceOf(NotDone.class).hasMessageContaining("NO_SUCH_BERTH_KEY");
        verify(listener).note(startsWith("this workload was not rehearsed"));
        verify(listener).prepares(contains("what load this machine can make"));
        nothingWasDone();
    }

    @Test
    void aStudyIsMeasuredOnceAtATime() throws Exception {
        StudyFile file = own("{name: one, path: /berths/7}");
        try (StudyLock _ = StudyLock.take(folder)) {
            assertThatThrownBy(() -> measurement(ofStudy(file)).run()).isInstanceOf(NotDone.class)
                    .hasMessageContaining("is being measured by another Kadrem");
            assertThatThrownBy(() -> FindLoad.run(file, _ -> false, (_, _) -> {
            })).as("a search for a load would disturb it").isInstanceOf(NotDone.class)
                    .hasMessageContaining("is being measured by another Kadrem");
        }
        nothingWasDone();
    }

    @Test
    void whatWasStoppedBeforeItBeganDoesNotBegin() throws Exception {
        Measurement measurement = measurement(ofStudy(own("{name: one, path: /berths/7}")));
        measurement.stop();
        assertThatThrownBy(measurement::run).isInstanceOf(InterruptedException.class);
        nothingWasDone();
    }

    @Test
    void aSittingIsNotGoneOnWithBeforeThePlanIsThrough() throws Exception {
        StudyFile file = own("{name: one, path: /berths/7}");
        assertThatThrownBy(() -> measurement(new Order.Again(file)).run()).isInstanceOf(NotDone.class)
                .hasMessageContaining("not through yet");
        nothingWasDone();
    }

    @Test
    void figuresThatWereMeasuredElsewhereAreNotMeasuredHere() throws Exception {
        Files.writeString(folder.resolve("p99.csv"), "candidate,round,value\npool,1,10\nloop,1,12\n");
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: Berth board
                question: {text: "Which one?", decide: [{metric: p99}]}
                candidates: [{id: pool}, {id: loop}]
                figures: [{file: p99.csv, metric: p99, unit: ms}]
                """);
        StudyFile file = StudyFile.read(folder);
        for (Order order : List.of(ofStudy(file), new Order.Again(file))) {
            NotDone why = catchThrowableOfType(NotDone.class, () -> measurement(order).run());
            assertThat(why.objection()).isEqualTo(new Objection.MeasuredElsewhere());
        }
        assertThatThrownBy(() -> Rehearse.run(file, _ -> false, (_, _) -> {
        })).isInstanceOf(NotDone.class).hasMessageContaining("measured elsewhere");
        nothingWasDone();
    }

    /** The folder of a floor's runs is its own: those of the study stay as they are. */
    @Test
    void roundsAreCountedInTheRunsOfWhatIsMeasured() throws IOException, Exception {
        StudyFile file = own("{name: one, path: /berths/7}");
        assertThat(new Rounds.UpTo(4).wanted(file.measured(), List.of())).isEqualTo(4);
        assertThat(new Rounds.Further(4).wanted(file.measured(), List.of())).isEqualTo(4);
    }
}
