package kadrem.load.campaign;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import java.util.regex.Pattern;

import kadrem.core.study.Candidate;
import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.load.content.ResponseCheck;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.ProtocolDriver;

/** Finds out what is really being measured: nothing here is typed by the user. */
public final class Fingerprint {
    private static final int MAX_VALUE = 300;
    private static final long MAX_HASHED_BYTES = 512L * 1024 * 1024;
    private static final int SHOWN_DIGITS = 16;
    /** Programs that are known to print their version and end; common practice, no source. */
    private static final Pattern TELLS_VERSION = Pattern
            .compile("(node|deno|bun|python|ruby|perl|php|dotnet|pypy|postgres|mysqld|mariadbd)[0-9.]*");

    private Fingerprint() {
    }

    /** Attributes of a candidate that is up, in the order in which they are shown. */
    public static Map<String, String> of(Candidate candidate, Optional<CandidateProcess> process, Path studyFolder,
            Control control) throws InterruptedException {
        var found = new LinkedHashMap<String, String>();
        found.put("address", candidate.address().toString());
        found.put("protocol", Protocols.byId(candidate.address().protocol()).map(Protocol::words)
                .orElse(candidate.address().protocol()));
        candidate.elsewhere().keySet().stream().sorted().forEach(crowd -> found.put("address-" + crowd,
                candidate.entrance(crowd).address().toString()));
        String wire = candidate.access().wire().words();
        if (!wire.isEmpty()) {
            found.put("wire", wire);
        }
        if (candidate.launch().isPresent()) {
            var launch = candidate.launch().get();
            found.put("command", String.join(" ", launch.command()));
            launch.processors().ifPresent(set -> found.put("processors",
                    process.map(CandidateProcess::isPinned).orElse(false) ? set : set + " (not applied here)"));
            Commit.of(studyFolder.resolve(launch.folder())).ifPresent(commit -> found.put("commit", commit));
        }
        process.flatMap(running -> ProcessHandle.of(running.pid())).ifPresent(handle -> process(found, handle));
        try {
            control.data(candidate).ifPresent(data -> found.put("data", data.length() > MAX_VALUE
                    ? "SHA-256 "
                            + ResponseCheck.sha256(data.getBytes(StandardCharsets.UTF_8)).substring(0, SHOWN_DIGITS)
                            + " of " + data.length() + " characters"
                    : cut(data)));
        } catch (CandidateFailure cause) {
            found.put("data", cut("(" + cause.getMessage() + ")"));
        }
        Optional<ProtocolDriver> driver = Drivers.of(candidate.address());
        candidate.access().settings().keySet().stream().sorted()
                .forEach(name -> found.put(candidate.address().protocol() + "-" + name,
                        cut(candidate.access().setting(name))));
        try {
            if (driver.isPresent()) {
                control.told(candidate, driver.get()).forEach((name, value) -> found.put(name, cut(value)));
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
            } else {
                versionOf(program).ifPresent(version -> found.put("executable-version", version));
            }
        });
        limits(found, Path.of("/proc", Long.toString(handle.pid()), "cgroup"), Path.of("/sys/fs/cgroup"));
    }

    /**
     * The version of a program: what a known runtime says of itself, else the hash of the file, which changes with it.
     * Programs that are not known are not started with options that they may not understand.
     */
    static Optional<String> versionOf(Path program) {
        if (TELLS_VERSION.matcher(program.getFileName().toString()).matches()) {
            try {
                Optional<String> told = said(List.of(program.toString(), "--version"), Map.of());
                if (told.isPresent()) {
                    return told.map(text -> cut(text.lines().findFirst().orElse("").strip()));
                }
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
                return Optional.empty();
            }
        }
        try {
            return Files.size(program) > MAX_HASHED_BYTES
                    ? Optional.of(Files.size(program) + " bytes of " + Files.getLastModifiedTime(program))
                    : Optional.of(
                            "SHA-256 " + ResponseCheck.sha256(Files.readAllBytes(program)).substring(0, SHOWN_DIGITS));
        } catch (IOException _) {
            return Optional.empty();
        }
    }

    private static void jvm(Map<String, String> found, Path program, String[] arguments) {
        // bin/java stands beside release
        Path folder = program.getParent();
        if (folder == null) {
            return;
        }
        Path release = folder.resolveSibling("release");
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
        return plain.length() > MAX_VALUE ? plain.substring(0, MAX_VALUE) + "…" : plain;
    }

    /** What a command prints, if it ends well and soon. */
    static Optional<String> said(List<String> command, Map<String, String> environment) throws InterruptedException {
        try {
            var builder = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD);
            builder.environment().putAll(environment);
            Process process = builder.start();
            process.getOutputStream().close();
            var text = new AtomicReference<>("");
            Thread reader = Thread.ofVirtual().start(() -> {
                try (var output = process.getInputStream()) {
                    text.set(new String(output.readNBytes(10_000), StandardCharsets.UTF_8).strip());
                } catch (IOException _) {
                    // the process is gone
                }
            });
            if (!process.waitFor(5, TimeUnit.SECONDS)) {
                process.destroyForcibly();
                return Optional.empty();
            }
            reader.join(java.time.Duration.ofSeconds(1));
            return process.exitValue() == 0 ? Optional.of(text.get()) : Optional.empty();
        } catch (IOException _) {
            return Optional.empty();
        }
    }
}
