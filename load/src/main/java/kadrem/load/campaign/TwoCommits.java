package kadrem.load.campaign;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import kadrem.core.study.Launch;
import kadrem.core.verdict.Regression;

/** Two commits of the program that a candidate launches, each built in a worktree of its own; taken away when closed. */
public final class TwoCommits implements AutoCloseable {
    private final Worktree before;
    private final Worktree after;
    private final Launch launch;
    private final Path studyFolder;

    /**
     * Where two commits come from and how they are built.
     *
     * @param repository a folder of the repository; the one in which the candidate is launched if empty
     * @param build shell command that builds a commit in the top folder of its files; empty where nothing is to be built
     */
    public record Origin(String before, String after, Optional<Path> repository, Optional<String> build) {
    }

    private TwoCommits(Worktree before, Worktree after, Launch launch, Path studyFolder) {
        this.before = before;
        this.after = after;
        this.launch = launch;
        this.studyFolder = studyFolder;
    }

    /**
     * Checks both out beside the repository's own files, which are not touched, and builds them.
     *
     * @param launch how the candidate is launched, in a folder seen from {@code studyFolder}
     * @param step told what is being done
     * @throws IOException if there is no such repository or commit, if both are the same, or if one cannot be built; the message says
     *         what git or the build said
     */
    public static TwoCommits of(Origin origin, Launch launch, Path studyFolder, Consumer<String> step)
            throws IOException, InterruptedException {
        Path where = origin.repository().orElse(studyFolder.resolve(launch.folder()));
        Worktree before = Worktree.of(where, origin.before());
        try {
            Worktree after = Worktree.of(where, origin.after());
            var both = new TwoCommits(before, after, launch, studyFolder);
            try {
                both.build(origin, step);
                return both;
            } catch (IOException | InterruptedException | RuntimeException cause) {
                after.close();
                throw cause;
            }
        } catch (IOException | InterruptedException | RuntimeException cause) {
            before.close();
            throw cause;
        }
    }

    private void build(Origin origin, Consumer<String> step) throws IOException, InterruptedException {
        if (before.commit().equals(after.commit())) {
            throw new IOException(
                    origin.before() + " and " + origin.after() + " are the same commit, " + before.commit());
        }
        if (origin.build().isPresent()) {
            for (Worktree version : List.of(before, after)) {
                step.accept("building " + version.commit());
                version.build(origin.build().get());
            }
        }
    }

    public Regression.Version before() throws IOException {
        return new Regression.Version(before.commit(), before.launch(launch, studyFolder));
    }

    public Regression.Version after() throws IOException {
        return new Regression.Version(after.commit(), after.launch(launch, studyFolder));
    }

    /** When the commits were made, the earlier version first. */
    public List<Instant> at() {
        return List.of(before.at(), after.at());
    }

    @Override
    public void close() throws IOException {
        try {
            before.close();
        } finally {
            after.close();
        }
    }
}
