package kadrem.load.host;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.HostSample;
import kadrem.load.drive.Spent;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.Isolated;

@Isolated
class HostWatchTest {
    /** A child of the process burns; the tree's CPU time must be that of the burner, and not the watcher's own. */
    @Test
    void countsTheCpuOfTheWholeProcessTree() throws IOException, InterruptedException {
        Process parent = new ProcessBuilder("sh", "-c", "(while :; do :; done) & wait").start();
        try {
            var watch = new HostWatch(OptionalLong.of(parent.pid()), OptionalLong.empty(),
                    () -> new HostWatch.Own(0, 0, 0, Optional.empty()));
            HostSample before = watch.sample(System.nanoTime());
            HostSample after = before;
            double busiest = 0;
            for (int i = 0; i < 1000 && after.candidateCpuMillis() < before.candidateCpuMillis() + 300; i++) {
                TimeUnit.MILLISECONDS.sleep(50);
                after = watch.sample(System.nanoTime());
                busiest = Math.max(busiest, after.hostCpuShare());
            }
            assertThat(after.candidateCpuMillis() - before.candidateCpuMillis()).isGreaterThanOrEqualTo(300);
            assertThat(after.candidateProcesses()).isEqualTo(2);
            assertThat(after.candidateMemory()).isPositive();
            assertThat(busiest).isBetween(0.01, 1.0);
            assertThat(after.hostMemoryUsed()).isPositive();
            assertThat(after.kadremMemory()).isPositive();
        } finally {
            parent.descendants().forEach(ProcessHandle::destroyForcibly);
            parent.destroyForcibly();
        }
    }

    @Test
    void aProcessThatIsGoneHasNoFigures() {
        HostSample sample = new HostWatch(OptionalLong.of(999_999_999L), OptionalLong.empty(),
                () -> new HostWatch.Own(5_000_000, 7_000_000, 0, Optional.empty()))
                .sample(System.nanoTime());
        assertThat(sample.candidateCpuMillis()).isEqualTo(-1);
        assertThat(sample.laneCpuMillis()).isEqualTo(5);
        assertThat(sample.userCpuMillis()).isEqualTo(7);
    }

    /** Programs that calls start stand for the candidate, beside a process of its own or without one. */
    @Test
    void whatProgramsHaveUsedIsTheCandidates() {
        HostSample sample = new HostWatch(OptionalLong.empty(), OptionalLong.empty(),
                () -> new HostWatch.Own(0, 0, 0, Optional.of(new Spent(31_000_000, 4096, 3))))
                .sample(System.nanoTime());
        assertThat(sample.candidateCpuMillis()).isEqualTo(31);
        assertThat(sample.candidateMemory()).isEqualTo(4096);
        assertThat(sample.candidateProcesses()).isEqualTo(3);
    }

    @Test
    void theMachineIsDescribedWithoutItsName() {
        assertThat(Machine.describe()).containsKeys("os", "cpu", "processors", "memory", "kadrem-jvm")
                .doesNotContainKeys("host", "name");
    }
}
