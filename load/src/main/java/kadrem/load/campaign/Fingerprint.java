package kadrem.load.campaign;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

import kadrem.core.study.Candidate;

/** Finds out what is really being measured: nothing here is typed by the user. */
public final class Fingerprint {
    private static final int MOST_VALUE = 300;

    private Fingerprint() {
    }

    /** Attributes of a candidate that is up, in the order in which they are shown. */
    public static Map<String, String> of(Candidate candidate, Optional<CandidateProcess> process, Path studyFolder,
            Control control) throws InterruptedException {
        var found = new LinkedHashMap<String, String>();
        found.put("address", candidate.address().toString());
        found.put("protocol", "HTTP/1.1");
        if (candidate.launch().isPresent()) {
            var launch = candidate.launch().get();
            found.put("command", String.join(" ", launch.command()));
            launch.processors().ifPresent(set -> found.put("processors",
                    process.map(CandidateProcess::isPinned).orElse(false) ? set : set + " (not applied here)"));
            commit(studyFolder.resolve(launch.folder())).ifPresent(commit -> found.put("commit", commit));
        }
        process.flatMap(running -> ProcessHandle.of(running.pid())).ifPresent(handle -> process(found, handle));
        try {
            String path = candidate.version().orElse(candidate.ready());
            Control.Answer answer = control.call("GET", candidate, path, Duration.ofSeconds(5));
            found.put("protocol", answer.protocol());
            if (!answer.tls().isEmpty()) {
                found.put("tls", answer.tls());
            }
            if (!answer.server().isEmpty()) {
                found.put("server", cut(answer.server()));
            }
            if (candidate.version().isPresent() && answer.isSuccess()) {
                found.put("version", cut(answer.body().strip()));
            }
        } catch (IOException _) {
            found.put("version", "(not answered)");
        }
        return found;
    }

    /** What the system tells of a process: its program, a JVM's version and flags, the limits of its container. */
    private static void process(Map<String, String> found, ProcessHandle handle) {
        handle.info().command().ifPresent(executable -> {
            Path program = Path.of(executable);
            found.put("executable", program.getFileName().toString());
            if (program.getFileName().toString().equals("java")) {
                jvm(found, program, handle.info().arguments().orElse(new String[0]));
            }
        });
        limits(found, Path.of("/proc", Long.toString(handle.pid()), "cgroup"), Path.of("/sys/fs/cgroup"));
    }

    private static void jvm(Map<String, String> found, Path program, String[] arguments) {
        Path release = program.getParent().resolveSibling("release");
        try (var lines = Files.lines(release)) {
            lines.filter(line -> line.startsWith("JAVA_RUNTIME_VERSION=")).findFirst()
                    .ifPresent(line -> found.put("jvm", line.replaceFirst("^[^=]*=", "").replace("\"", "")));
        } catch (IOException | java.io.UncheckedIOException _) {
            // a JVM without a release file tells its version no other way
        }
        found.put("jvm-flags", cut(java.util.Arrays.stream(arguments).filter(argument -> argument.startsWith("-X"))
                .sorted().collect(java.util.stream.Collectors.joining(" "))));
    }

    /** The limits of the control group (version 2) that a process is in; nothing where there is none. */
    static void limits(Map<String, String> found, Path membership, Path root) {
        try {
            String group = Files.readAllLines(membership).stream().filter(line -> line.startsWith("0::")).findFirst()
                    .map(line -> line.substring(3)).orElse("");
            if (group.isEmpty()) {
                return;
            }
            Path folder = root.resolve(group.replaceFirst("^/+", ""));
            for (String limit : new String[]{"cpu.max", "memory.max"}) {
                Path file = folder.resolve(limit);
                if (Files.isReadable(file)) {
                    found.put("cgroup-" + limit, Files.readString(file).strip());
                }
            }
        } catch (IOException _) {
            // told by the attribute's absence
        }
    }

    private static String cut(String value) {
        String plain = value.replaceAll("\\p{Cntrl}", " ");
        return plain.length() > MOST_VALUE ? plain.substring(0, MOST_VALUE) + "…" : plain;
    }

    /** Commit of the folder, marked where files differ from it. */
    private static Optional<String> commit(Path folder) throws InterruptedException {
        Optional<String> head = git(folder, "rev-parse", "--short=12", "HEAD");
        if (head.isEmpty()) {
            return head;
        }
        boolean changed = git(folder, "status", "--porcelain", "--untracked-files=no", "--", ".")
                .filter(lines -> !lines.isEmpty()).isPresent();
        return head.map(id -> changed ? id + " with changes" : id);
    }

    private static Optional<String> git(Path folder, String... arguments) throws InterruptedException {
        var command = new java.util.ArrayList<>(java.util.List.of("git", "-C", folder.toString()));
        command.addAll(java.util.List.of(arguments));
        try {
            Process process = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
            try (var output = process.getInputStream()) {
                String text = new String(output.readNBytes(10_000), StandardCharsets.UTF_8).strip();
                boolean ended = process.waitFor(5, TimeUnit.SECONDS);
                return ended && process.exitValue() == 0 ? Optional.of(text) : Optional.empty();
            }
        } catch (IOException _) {
            return Optional.empty();
        }
    }
}
