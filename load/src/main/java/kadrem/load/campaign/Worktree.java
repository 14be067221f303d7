package kadrem.load.campaign;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;

import kadrem.core.study.Launch;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** One commit of a git repository in a folder of its own, built there; taken away when closed. Needs the program git. */
final class Worktree implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Worktree.class);
    private static final long BUILD_MINUTES = 30;
    private static final int SHOWN_LINES = 20;

    private final Path repository;
    private final Path folder;
    private final String commit;
    private final Instant at;
    private final AtomicBoolean isClosed = new AtomicBoolean();
    /** For a Kadrem that is ended in the middle of a measurement. */
    private final Thread atExit = new Thread(this::removeQuietly, "kadrem-worktree");

    private Worktree(Path repository, Path folder, String commit, Instant at) {
        this.repository = repository;
        this.folder = folder;
        this.commit = commit;
        this.at = at;
    }

    /**
     * Checks a commit out beside the repository's own files, which are not touched.
     *
     * @param commit any name that git knows: hash, tag, branch, HEAD~1
     * @throws IOException if there is no such repository or commit; the message says what git said
     */
    static Worktree of(Path repository, String commit) throws IOException, InterruptedException {
        Path root = Path.of(run(repository, List.of("git", "rev-parse", "--show-toplevel")).strip());
        String hash = run(root, List.of("git", "rev-parse", "--verify", "--short=10", commit + "^{commit}")).strip();
        Instant at = Instant.ofEpochSecond(
                Long.parseLong(run(root, List.of("git", "show", "-s", "--format=%ct", hash)).strip()));
        Path folder = Files.createTempDirectory("kadrem-" + hash + "-").toRealPath();
        run(root, List.of("git", "worktree", "add", "--quiet", "--detach", folder.toString(), hash));
        var made = new Worktree(root.toRealPath(), folder, hash, at);
        Runtime.getRuntime().addShutdownHook(made.atExit);
        return made;
    }

    /** Runs a shell command in it. @throws IOException if it ends with another code than 0 */
    void build(String command) throws IOException, InterruptedException {
        run(folder, List.of("sh", "-c", command));
    }

    String commit() {
        return commit;
    }

    /** When the commit was made. */
    Instant at() {
        return at;
    }

    /**
     * The launch of a candidate from this commit: in the same folder of the worktree as it has in the repository, or in the
     * worktree's own where the study lies elsewhere.
     */
    Launch launch(Launch launch, Path studyFolder) throws IOException {
        Path usual = studyFolder.toRealPath().resolve(launch.folder()).normalize();
        Path here = usual.startsWith(repository) ? folder.resolve(repository.relativize(usual).toString()) : folder;
        return new Launch(launch.command(), here.toString(), launch.environment(), launch.processors(),
                launch.readyWithin(), launch.stopWithin());
    }

    private static String run(Path in, List<String> command) throws IOException, InterruptedException {
        Path told = Files.createTempFile("kadrem-command", ".txt");
        try {
            var builder = new ProcessBuilder(command).directory(in.toFile()).redirectErrorStream(true)
                    .redirectOutput(told.toFile());
            // a repository's hooks and watchers are not run; its filters are, since they make files what they are
            builder.environment().putAll(new GitSettings().environment());
            Process process = builder.start();
            if (!ends(process)) {
                throw new IOException(String.join(" ", command) + " took more than " + BUILD_MINUTES + " minutes");
            }
            String text = Files.readString(told, StandardCharsets.UTF_8);
            if (process.exitValue() != 0) {
                List<String> lines = new ArrayList<>(text.lines().toList());
                throw new IOException(String.join(" ", command) + " ended with code " + process.exitValue() + ":\n  "
                        + String.join("\n  ", lines.subList(Math.max(0, lines.size() - SHOWN_LINES), lines.size())));
            }
            return text;
        } finally {
            Files.deleteIfExists(told);
        }
    }

    /** Whether it ends in time; if not, or if nobody waits for it any more, it is ended. */
    private static boolean ends(Process process) throws InterruptedException {
        try {
            return process.waitFor(BUILD_MINUTES, TimeUnit.MINUTES);
        } finally {
            if (process.isAlive()) {
                process.descendants().forEach(ProcessHandle::destroyForcibly);
                process.destroyForcibly();
            }
        }
    }

    @Override
    public void close() throws IOException {
        try {
            Runtime.getRuntime().removeShutdownHook(atExit);
        } catch (IllegalStateException _) {
            // Kadrem is being ended, and the hook has run or will
        }
        remove();
    }

    private void remove() throws IOException {
        if (isClosed.compareAndSet(false, true)) {
            try {
                run(repository, List.of("git", "worktree", "remove", "--force", folder.toString()));
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
        }
    }

    private void removeQuietly() {
        try {
            remove();
        } catch (IOException cause) {
            LOG.warn("{} could not be taken away", folder, cause);
        }
    }
}
