package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

import kadrem.core.study.Launch;
import kadrem.fixtures.Programs;
import kadrem.fixtures.Repository;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Two commits of a real repository. */
class TwoCommitsTest {
    private static final Launch LAUNCH = new Launch(List.of("sh", "run.sh"), "../service", Map.of(), Optional.empty(),
            Duration.ofSeconds(5), Duration.ofSeconds(5));

    @TempDir
    private Path folder;
    private Repository repository;

    /** Kadrem's process, which is ended while it has both. */
    static final class Holder {
        private Holder() {
        }

        public static void main(String[] arguments) throws IOException, InterruptedException {
            try (TwoCommits both = commits(Path.of(arguments[0]), "HEAD~1", Optional.empty(), new ArrayList<>())) {
                System.out.println(both.before().name());
                Thread.sleep(Duration.ofMinutes(5));
            }
        }
    }

    private static TwoCommits commits(Path folder, String before, Optional<String> build, List<String> steps)
            throws IOException, InterruptedException {
        return TwoCommits.of(new TwoCommits.Origin(before, "HEAD", Optional.empty(), build), LAUNCH,
                folder.resolve("study"), steps::add);
    }

    @BeforeEach
    void commit() throws Exception {
        assumeTrue(Programs.isThere("git"), "there is no git on this machine");
        Files.createDirectories(folder.resolve("study"));
        Files.createDirectories(folder.resolve("service"));
        repository = Repository.in(folder);
        for (String text : List.of("echo first", "echo second")) {
            repository.commit("service/run.sh", text);
        }
    }

    private void assertNothingIsLeft() throws Exception {
        assertThat(repository.git("worktree", "list").lines()).hasSize(1);
        assertThat(repository.git("status", "--porcelain")).isEmpty();
    }

    @Test
    void eachIsBuiltInAFolderOfItsOwnAndTakenAway() throws Exception {
        var steps = new ArrayList<String>();
        Path before;
        try (TwoCommits both = commits(folder, "HEAD~1", Optional.of("cp service/run.sh service/built"), steps)) {
            before = Path.of(both.before().launch().folder());
            assertThat(before.resolve("built")).hasContent("echo first");
            assertThat(Path.of(both.after().launch().folder(), "built")).hasContent("echo second");
            assertThat(both.before().launch().command()).isEqualTo(LAUNCH.command());
            assertThat(both.before().name()).isEqualTo(repository.git("rev-parse", "--short=10", "HEAD~1"));
            assertThat(both.at()).hasSize(2);
            assertThat(steps).hasSize(2).allMatch(step -> step.startsWith("building "));
        }
        assertThat(before).doesNotExist();
        assertNothingIsLeft();
    }

    @Test
    void whatCannotBeMadeReadyIsToldAndLeavesNothing() throws Exception {
        assertThatThrownBy(() -> commits(folder, "nowhere", Optional.empty(), new ArrayList<>()))
                .hasMessageStartingWith("git rev-parse --verify");
        assertThatThrownBy(() -> commits(folder, "HEAD", Optional.empty(), new ArrayList<>()))
                .hasMessageStartingWith("HEAD and HEAD are the same commit");
        assertThatThrownBy(() -> commits(folder, "HEAD~1", Optional.of("echo the roof leaks; exit 3"),
                new ArrayList<>())).hasMessageContaining("ended with code 3").hasMessageContaining("the roof leaks");
        assertNothingIsLeft();
    }

    @Test
    void nothingIsLeftByAKadremThatIsEnded() throws Exception {
        Process holder = new ProcessBuilder(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-cp",
                System.getProperty("java.class.path"), Holder.class.getName(), folder.toString())
                .redirectError(ProcessBuilder.Redirect.DISCARD).start();
        try (var told = holder.inputReader()) {
            assertThat(told.readLine()).isEqualTo(repository.git("rev-parse", "--short=10", "HEAD~1"));
            assertThat(repository.git("worktree", "list").lines()).hasSize(3);
            holder.destroy();
            assertThat(holder.waitFor(60, TimeUnit.SECONDS)).isTrue();
        } finally {
            holder.destroyForcibly();
        }
        assertNothingIsLeft();
    }
}
