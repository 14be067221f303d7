package kadrem.load.campaign;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The commit that a folder is at. A repository can name programs that git runs: watchers of its files, hooks, filters of contents.
 * It may have come with a study from elsewhere, so that every one of them is switched off, and only a folder or file {@code .git}
 * counts as one, not a folder that is laid out like it.
 */
final class Commit {
    private Commit() {
    }

    /** The first digits of the commit, marked where files of the folder differ from it; empty where there is none. */
    static Optional<String> of(Path folder) throws InterruptedException {
        Path tree;
        try {
            tree = folder.toRealPath();
        } catch (IOException _) {
            return Optional.empty();
        }
        Path root = tree;
        while (root != null && !Files.exists(root.resolve(".git"))) {
            root = root.getParent();
        }
        if (root == null) {
            return Optional.empty();
        }
        String within = root.equals(tree) ? "." : root.relativize(tree).toString();
        var settings = new GitSettings();
        // reading them runs nothing
        said(root, settings, "config", "--name-only", "--get-regexp", "^filter\\.").stream().flatMap(String::lines)
                .distinct().forEach(name -> settings.with(name, name.endsWith(".required") ? "false" : ""));
        Optional<String> head = said(root, settings, "rev-parse", "--short=12", "HEAD");
        if (head.isEmpty()) {
            return head;
        }
        boolean changed = said(root, settings, "status", "--porcelain", "--untracked-files=no",
                "--ignore-submodules=all", "--",
                within).filter(lines -> !lines.isEmpty()).isPresent();
        return head.map(id -> changed ? id + " with changes" : id);
    }

    /** What git says of this repository and no other. */
    private static Optional<String> said(Path root, GitSettings settings, String... arguments)
            throws InterruptedException {
        var command = new ArrayList<>(List.of("git", "-C", root.toString(), "--git-dir=" + root.resolve(".git"),
                "--work-tree=" + root, "--no-optional-locks", "--no-pager", "--literal-pathspecs"));
        command.addAll(List.of(arguments));
        return Fingerprint.said(command, settings.environment());
    }
}
