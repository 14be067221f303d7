package kadrem.files.export;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;

import kadrem.core.study.Call;
import kadrem.core.study.SecretReference;
import kadrem.files.AtomicFile;
import kadrem.files.study.StudyFile;
import org.apache.commons.io.file.PathUtils;

/** A whole study as one file, which opens elsewhere and gives the same figures to the last digit. */
public final class StudyZip {
    /** An archive may not grow to more than this: a small file can hold a very large one. */
    private static final long MAX_BYTES = 16L << 30;
    /** Of an archive that would grow more than this what lies above the modest size is not unpacked: a study's files do not fold so far. */
    private static final int MAX_GROWTH = 100;
    private static final long MODEST_BYTES = 256L << 20;
    static final int MAX_FILES = 1_000_000;

    private StudyZip() {
    }

    /**
     * What was packed.
     *
     * @param leftOut sentences on files that stay behind
     * @param secrets what looks like a secret and is in it all the same
     */
    public record Packed(Path file, int files, List<String> leftOut, List<String> secrets) {
        public Packed {
            leftOut = List.copyOf(leftOut);
            secrets = List.copyOf(secrets);
        }
    }

    /**
     * Packs a study: its file, values, runs and rehearsal, and whatever else lies in its folder. Left out are reports, hidden files,
     * links, private keys, and files to which the study refers for a secret. A file that is there is replaced.
     *
     * @param secrets those to which the study refers, in every form in which they are looked for
     * @param evenSo whether it is packed although it holds what looks like secrets
     * @throws SecretsFound if it holds what looks like secrets; nothing is written then
     * @throws IOException if the study cannot be read or the archive cannot be written
     */
    public static Packed pack(Path study, Path archive, Collection<String> secrets, boolean evenSo)
            throws IOException {
        if (!Files.isRegularFile(study.resolve(StudyFile.NAME))) {
            throw new IOException(study + " is not a study: it has no " + StudyFile.NAME);
        }
        var leftOut = new ArrayList<String>();
        List<Path> files = files(study, archive, leftOut);
        var search = new SecretSearch(secrets);
        var found = new ArrayList<String>();
        for (Path file : files) {
            search.in(file).forEach(what -> found.add(study.relativize(file) + ", " + what));
        }
        if (!found.isEmpty() && !evenSo) {
            throw new SecretsFound(found);
        }
        Path target = archive.toAbsolutePath();
        Path temporary = target
                .resolveSibling("." + target.getFileName() + "." + ProcessHandle.current().pid() + ".tmp");
        try {
            try (OutputStream out = Files.newOutputStream(temporary);
                    var zip = new ZipOutputStream(out, StandardCharsets.UTF_8)) {
                for (Path file : files) {
                    var entry = new ZipEntry(study.relativize(file).toString().replace('\\', '/'));
                    entry.setTime(Files.getLastModifiedTime(file).toMillis());
                    zip.putNextEntry(entry);
                    Files.copy(file, zip);
                    zip.closeEntry();
                }
            }
            AtomicFile.move(temporary, target);
        } finally {
            Files.deleteIfExists(temporary);
        }
        return new Packed(archive, files.size(), leftOut, found);
    }

    private static List<Path> files(Path study, Path archive, List<String> leftOut) throws IOException {
        var files = new ArrayList<Path>();
        Path report = study.resolve("report");
        Set<Path> ofSecrets = secretFiles(study);
        Files.walkFileTree(study, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult preVisitDirectory(Path folder, BasicFileAttributes attributes) {
                boolean stays = !folder.equals(study) && (isHidden(folder) || folder.equals(report));
                return stays ? FileVisitResult.SKIP_SUBTREE : FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) throws IOException {
                if (isHidden(file) || file.toAbsolutePath().equals(archive.toAbsolutePath())) {
                    return FileVisitResult.CONTINUE;
                }
                if (!attributes.isRegularFile()) {
                    leftOut.add(study.relativize(file) + " is a link or no plain file");
                } else if (SecretSearch.isPrivateKey(file)) {
                    leftOut.add(study.relativize(file) + " holds a private key");
                } else if (ofSecrets.contains(file.toAbsolutePath().normalize())) {
                    leftOut.add(study.relativize(file) + " holds a secret to which the study refers");
                } else {
                    files.add(file);
                }
                return FileVisitResult.CONTINUE;
            }
        });
        Collections.sort(files);
        return files;
    }

    private static boolean isHidden(Path path) {
        return path.getFileName().toString().startsWith(".");
    }

    /** Files of whose first line the study takes a secret. */
    private static Set<Path> secretFiles(Path study) throws IOException {
        return Call.placeholders(Files.readString(study.resolve(StudyFile.NAME))).stream()
                .filter(SecretReference::isOne).map(SecretReference::parse)
                .filter(reference -> reference.kind() == SecretReference.Kind.FILE)
                .map(reference -> study.resolve(reference.where()).toAbsolutePath().normalize())
                .collect(Collectors.toSet());
    }

    /** Whether a file begins like an archive. */
    public static boolean isOne(Path file) {
        try (InputStream in = new BufferedInputStream(Files.newInputStream(file))) {
            return in.read() == 'P' && in.read() == 'K';
        } catch (IOException _) {
            return false;
        }
    }

    /**
     * Unpacks a study into a folder that is not there yet, or is empty. Where that fails, nothing is left behind.
     *
     * @throws IOException if the archive is damaged, is no study, would write outside the folder, or is too large; or the folder is
     *             in use
     */
    public static void unpack(Path archive, Path folder) throws IOException {
        unpack(archive, folder, Math.min(MAX_BYTES, Math.max(MODEST_BYTES, MAX_GROWTH * Files.size(archive))));
    }

    static void unpack(Path archive, Path folder, long mostBytes) throws IOException {
        if (Files.exists(folder, LinkOption.NOFOLLOW_LINKS) && !isEmptyFolder(folder)) {
            throw new IOException(folder + " is in use. Name a folder that is not there yet");
        }
        Path target = folder.toAbsolutePath().normalize();
        Path parent = target.getParent();
        if (parent == null) {
            throw new IOException(folder + " is the top of all folders. Name one below it");
        }
        Files.createDirectories(parent);
        // not a temporary folder of the system's: it becomes the study, with the rights that the user's folders have
        Path work = Files.createDirectory(parent.resolve(".unpacking-" + ProcessHandle.current().pid() + "-"
                + Long.toUnsignedString(System.nanoTime(), Character.MAX_RADIX)));
        try {
            try (var zip = new ZipFile(archive.toFile(), StandardCharsets.UTF_8)) {
                unpack(zip, archive, work, mostBytes);
            } catch (ZipException cause) {
                throw new IOException(archive + " is not an archive that can be read: " + cause.getMessage(), cause);
            }
            if (!Files.isRegularFile(work.resolve(StudyFile.NAME))) {
                throw new IOException(archive + " holds no study: there is no " + StudyFile.NAME + " in it");
            }
            Files.deleteIfExists(target);
            Files.move(work, target, StandardCopyOption.ATOMIC_MOVE);
        } finally {
            delete(work);
        }
    }

    private static void unpack(ZipFile zip, Path archive, Path work, long mostBytes) throws IOException {
        long left = mostBytes;
        if (zip.size() > MAX_FILES) {
            throw new IOException(archive + " holds more than " + MAX_FILES + " files, which no study has");
        }
        for (ZipEntry entry : Collections.list(zip.entries())) {
            Path file = named(work, entry.getName(), archive);
            if (!file.startsWith(work) || entry.getName().contains("\\")) {
                throw new IOException(archive + " would write outside its folder (" + entry.getName()
                        + "); nothing was unpacked");
            }
            for (Path part : work.relativize(file)) {
                // such as a repository with programs of its own
                if (isHidden(part)) {
                    throw new IOException(archive + " holds " + entry.getName()
                            + ", and hidden files are no part of a study; nothing was unpacked");
                }
            }
            if (entry.isDirectory()) {
                Files.createDirectories(file);
                continue;
            }
            Files.createDirectories(file.getParent());
            try (InputStream in = zip.getInputStream(entry); OutputStream out = Files.newOutputStream(file)) {
                var buffer = new byte[1 << 16];
                for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
                    left -= read;
                    if (left < 0) {
                        throw new IOException(archive + " unpacks to more than " + (mostBytes >> 20)
                                + " MiB; nothing was unpacked");
                    }
                    out.write(buffer, 0, read);
                }
            }
        }
    }

    private static Path named(Path work, String name, Path archive) throws IOException {
        try {
            return work.resolve(name).normalize();
        } catch (InvalidPathException cause) {
            throw new IOException(archive + " holds a file whose name this system cannot have: " + cause.getReason()
                    + "; nothing was unpacked", cause);
        }
    }

    private static boolean isEmptyFolder(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) {
            return false;
        }
        try (Stream<Path> inside = Files.list(folder)) {
            return inside.findAny().isEmpty();
        }
    }

    private static void delete(Path folder) throws IOException {
        if (Files.exists(folder)) {
            PathUtils.deleteDirectory(folder);
        }
    }
}
