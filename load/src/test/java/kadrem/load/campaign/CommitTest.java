package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * The commit of a folder is found without running anything that its repository names. What git would run is documented in
 * git-config(1), core.fsmonitor and filter.&lt;driver&gt;.clean.
 */
class CommitTest {
    @TempDir
    private Path folder;
    private Path trap;

    @BeforeEach
    void layTheTrap() throws Exception {
        trap = folder.resolve("trap.sh");
        Files.writeString(trap, "#!/bin/sh\ntouch '" + folder.resolve("caught") + "'\n");
        assertThat(trap.toFile().setExecutable(true)).isTrue();
    }

    private static void git(Path in, String... arguments) throws Exception {
        var command = new ArrayList<>(List.of("git", "-c", "user.name=Harbour", "-c", "user.email=harbour@example"));
        command.addAll(List.of(arguments));
        Process process = new ProcessBuilder(command).directory(in.toFile()).inheritIO().start();
        assertThat(process.waitFor(20, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).as(String.join(" ", arguments)).isZero();
    }

    private Path repository() throws Exception {
        Path tree = Files.createDirectories(folder.resolve("tree/app"));
        git(tree.getParent(), "init", "--quiet");
        Files.writeString(tree.resolve("serve.sh"), "echo one");
        git(tree.getParent(), "add", ".");
        git(tree.getParent(), "commit", "--quiet", "-m", "one");
        return tree;
    }

    private void nobodyWasCaught() {
        assertThat(folder.resolve("caught")).doesNotExist();
    }

    @Test
    void theCommitIsFoundFromAFolderWithinAndMarkedWhereFilesDiffer() throws Exception {
        Path app = repository();
        assertThat(Commit.of(app)).hasValueSatisfying(commit -> assertThat(commit).matches("[0-9a-f]{12}"));
        Files.writeString(app.resolve("serve.sh"), "echo two");
        assertThat(Commit.of(app)).hasValueSatisfying(
                commit -> assertThat(commit).matches("[0-9a-f]{12} with changes"));
        assertThat(Commit.of(folder)).as("no repository").isEmpty();
    }

    @Test
    void aWatcherThatTheRepositoryNamesIsNotRun() throws Exception {
        Path app = repository();
        git(app, "config", "core.fsmonitor", trap.toString());
        assertThat(Commit.of(app)).isPresent();
        nobodyWasCaught();
    }

    @ParameterizedTest
    @ValueSource(strings = {"evil", "ev=il", "ev.il"})
    void aFilterThatTheRepositoryNamesIsNotRun(String name) throws Exception {
        Path app = repository();
        Files.writeString(app.resolve(".gitattributes"), "* filter=" + name);
        git(app, "config", "filter." + name + ".clean", trap.toString());
        git(app, "config", "filter." + name + ".required", "true");
        Files.writeString(app.resolve("serve.sh"), "echo two");
        assertThat(Commit.of(app)).hasValueSatisfying(commit -> assertThat(commit).endsWith("with changes"));
        nobodyWasCaught();
    }

    /** As an archive would bring it: the files of a repository in the folder itself, which git takes for a bare one. */
    @Test
    void aFolderThatIsLaidOutLikeARepositoryIsNone() throws Exception {
        Path app = repository();
        Path bare = folder.resolve("bare");
        Files.move(app.getParent().resolve(".git"), bare);
        git(bare, "config", "core.bare", "false");
        git(bare, "config", "core.worktree", bare.toString());
        git(bare, "config", "core.fsmonitor", trap.toString());
        assertThat(Commit.of(bare)).isEmpty();
        nobodyWasCaught();
    }
}
