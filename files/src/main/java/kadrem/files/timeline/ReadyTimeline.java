package kadrem.files.timeline;

import java.io.IOException;
import java.lang.foreign.Arena;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.Optional;

import kadrem.core.plan.Instants;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.files.AtomicFile;

/**
 * A timeline of a study as runs take it. It is made once of the study's CSV and kept among the user's cached files
 * ({@code $XDG_CACHE_HOME/kadrem/timelines}, XDG Base Directory Specification 0.8), so that memory does not grow with it and a study is open
 * at once the next time. What was not used for a month is removed.
 *
 * @param file in which the arrivals are kept ({@link Instants})
 * @param digest of the CSV
 */
public record ReadyTimeline(Path file, String digest) {
    private static final Duration KEPT = Duration.ofDays(30);
    private static final String ENDING = ".arrivals";
    private static final int SHOWN_BYTES = 8;

    /**
     * Reads a timeline, or finds what was read of it before.
     *
     * @param csv see {@link TimelineTable}
     * @param workload whose visits and value lists the file names
     * @throws TimelineException if it is none
     */
    public static ReadyTimeline of(Path csv, Workload workload) throws TimelineException {
        return of(csv, workload, Path.of(System.getenv().getOrDefault("XDG_CACHE_HOME",
                System.getProperty("user.home", "") + "/.cache"), "kadrem", "timelines"));
    }

    /** The same with a folder in which it is kept. */
    static ReadyTimeline of(Path csv, Workload workload, Path folder) throws TimelineException {
        try {
            String key = key(csv, workload);
            Optional<ReadyTimeline> before = before(folder, key);
            if (before.isPresent()) {
                return before.get();
            }
            Files.createDirectories(folder);
            removeOld(folder);
            Path making = Files.createTempFile(folder, key, ".part");
            try {
                String digest = shown(TimelineTable.read(csv, workload, making));
                Path made = folder.resolve(key + "-" + digest + ENDING);
                AtomicFile.move(making, made);
                return new ReadyTimeline(made, digest);
            } finally {
                Files.deleteIfExists(making);
            }
        } catch (IOException cause) {
            throw new TimelineException("cannot be made ready in " + folder + ": " + cause.getMessage(),
                    "Make both readable, and room there.");
        }
    }

    private static Optional<ReadyTimeline> before(Path folder, String key) throws IOException {
        if (!Files.isDirectory(folder)) {
            return Optional.empty();
        }
        try (DirectoryStream<Path> found = Files.newDirectoryStream(folder, key + "-*" + ENDING)) {
            for (Path file : found) {
                Files.setLastModifiedTime(file, FileTime.from(Instant.now()));
                String name = String.valueOf(file.getFileName());
                return Optional.of(new ReadyTimeline(file,
                        name.substring(key.length() + 1, name.length() - ENDING.length())));
            }
        }
        return Optional.empty();
    }

    private static void removeOld(Path folder) throws IOException {
        Instant before = Instant.now().minus(KEPT);
        try (DirectoryStream<Path> found = Files.newDirectoryStream(folder)) {
            for (Path file : found) {
                if (Files.getLastModifiedTime(file).toInstant().isBefore(before)) {
                    Files.deleteIfExists(file);
                }
            }
        }
    }

    /** What the arrivals that are kept depend on: the file, and the numbers of what it names. */
    private static String key(Path csv, Workload workload) throws IOException {
        MessageDigest key = sha256();
        add(key, csv.toRealPath());
        add(key, Files.size(csv));
        add(key, Files.getLastModifiedTime(csv));
        for (Visit visit : workload.visits()) {
            add(key, visit.name());
        }
        for (ValueList list : workload.values()) {
            add(key, list.name());
            add(key, list.draw());
            switch (list) {
                case ValueList.Listed listed -> {
                    add(key, listed.size());
                    listed.rows().forEach(row -> add(key, row));
                }
                default -> add(key, list);
            }
        }
        return shown(key.digest());
    }

    private static void add(MessageDigest key, Object part) {
        byte[] text = part.toString().getBytes(StandardCharsets.UTF_8);
        key.update(Instants.room(1).putLong(text.length).flip());
        key.update(text);
    }

    static MessageDigest sha256() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("every Java platform has SHA-256", impossible);
        }
    }

    private static String shown(byte[] digest) {
        return HexFormat.of().formatHex(digest, 0, SHOWN_BYTES);
    }

    /** Its arrivals, in memory that is mapped to the file. */
    public Instants instants() throws IOException {
        try (FileChannel channel = FileChannel.open(file)) {
            return Instants.in(channel.map(FileChannel.MapMode.READ_ONLY, 0, channel.size(), Arena.ofAuto()));
        }
    }
}
