package kadrem.load.gate;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.gate.Reach;
import kadrem.core.study.Address;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.study.Workload;
import kadrem.load.content.ResponseCheck;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The user's word: which hosts beyond this machine may be loaded, and what studies may do outside their own folders; one file, since all
 * that the user has said is kept under one lock. It is kept in files of the user's own. A study cannot say it, since it may come from
 * elsewhere. The word for a study holds for what it was given to, where the study lies: whatever is added or changed asks again, and what
 * is left out needs none.
 */
public final class Consent {
    private static final Logger LOG = LoggerFactory.getLogger(Consent.class);
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final TypeReference<TreeMap<String, Word>> WORDS = new TypeReference<>() {
    };

    /** Lies in a study that was made here; hidden files leave no study with it, and come with none. */
    private static final String MADE_HERE = ".made-here";
    private static final int MAX_MARK = 100;

    private final Path hosts;
    private final Path studies;

    /**
     * What was said of a study.
     *
     * @param own the mark that lies in the folder, where it was made here and so needs no further word; empty for none. Another folder in
     *            its place has no such mark
     * @param at when it was said
     * @param deeds what it may do
     */
    public record Word(String own, String at, List<String> deeds) {
        public Word {
            deeds = List.copyOf(deeds);
        }

        boolean isOwn(Path studyFolder) {
            return !own.isEmpty() && own.equals(mark(studyFolder.resolve(MADE_HERE)));
        }
    }

    /**
     * What a study would do, and what of it waits for the user's word.
     *
     * @param all everything, in the order of the study; nothing of a study that was made here
     * @param waiting what has no word yet
     * @param gone words of what had one and is not in the study any more
     */
    public record Asked(List<Reach> all, List<Reach> waiting, List<String> gone) {
        public Asked {
            all = List.copyOf(all);
            waiting = List.copyOf(waiting);
            gone = List.copyOf(gone);
        }

        /** Whether nothing waits. */
        public boolean isAllowed() {
            return waiting.isEmpty();
        }

        /** Whether some of it was allowed before, so that what waits is a change. */
        public boolean isChange() {
            return waiting.size() < all.size() || !gone.isEmpty();
        }

        /** A mark of all of it by which a build can allow just this: SHA-256, hexadecimal. */
        public String digest() {
            return ResponseCheck.sha256(all.stream().map(reach -> reach.words().length() + ":" + reach.words())
                    .collect(Collectors.joining("\n")).getBytes(StandardCharsets.UTF_8));
        }

        /** What waits under the headings that it has, in their order. */
        public Map<String, List<Reach>> waitingByHeading() {
            Map<String, List<Reach>> all = new LinkedHashMap<>();
            for (String heading : Reach.HEADINGS) {
                List<Reach> under = waiting.stream().filter(reach -> reach.heading().equals(heading)).toList();
                if (!under.isEmpty()) {
                    all.put("It would " + heading, under);
                }
            }
            return all;
        }

        /** All that waits under its headings, a line or several each. */
        public List<String> lines() {
            var lines = new ArrayList<String>();
            waitingByHeading().forEach((heading, under) -> {
                lines.add(heading + ":");
                under.forEach(reach -> reach.words().lines().forEach(line -> lines.add("  " + line)));
            });
            return lines;
        }
    }

    /** @param folder where the user's word is kept */
    public Consent(Path folder) {
        hosts = folder.resolve("hosts-i-may-load.txt");
        studies = folder.resolve("what-studies-may-do.json");
    }

    /** The consent of the user who runs this program. */
    public static Consent ofUser() {
        String folder = System.getenv().getOrDefault("XDG_CONFIG_HOME",
                System.getProperty("user.home", "") + "/.config");
        return new Consent(Path.of(folder, "kadrem"));
    }

    // ---- hosts ----------------------------------------------------------------------------------------------------

    /** Whether calls that no study asks for may go to the address; loopback needs no word. */
    public boolean allows(Address address) {
        if (address.isLoopback()) {
            return true;
        }
        try {
            return Files.isRegularFile(hosts) && Files.readAllLines(hosts).stream()
                    .anyMatch(line -> line.strip().equalsIgnoreCase(address.host()));
        } catch (IOException _) {
            return false;
        }
    }

    /** Keeps the user's word that {@code host} may be loaded. */
    public void allow(String host) throws IOException {
        Files.createDirectories(hosts.toAbsolutePath().getParent());
        Files.write(hosts, List.of(host.strip().toLowerCase(Locale.ROOT)), StandardCharsets.UTF_8,
                StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }

    /** Why nothing is sent to an address that is not allowed, and how to allow it. */
    public static String objection(Address address) {
        return address.host() + " is not on this machine, and you have not said that you may load it. If you may:"
                + " kadrem allow " + address.host();
    }

    // ---- studies --------------------------------------------------------------------------------------------------

    /** What the study would do, and what of it waits for the user's word. Reads files that its commands name. */
    public Asked asks(Study study, Path studyFolder) {
        return asks(() -> Reaches.of(study, studyFolder), studyFolder);
    }

    /** Likewise for one candidate. */
    public Asked asks(Candidate candidate, Workload workload, Path studyFolder) {
        return asks(() -> Reaches.of(candidate, workload, studyFolder), studyFolder);
    }

    /** Whether the study was made here. */
    public boolean isOwn(Path studyFolder) {
        return word(studyFolder).filter(said -> said.isOwn(studyFolder)).isPresent();
    }

    private Optional<Word> word(Path studyFolder) {
        return Optional.ofNullable(words().get(key(studyFolder)));
    }

    private Asked asks(Supplier<List<Reach>> reaches, Path studyFolder) {
        Optional<Word> word = word(studyFolder);
        if (word.filter(said -> said.isOwn(studyFolder)).isPresent()) {
            return new Asked(List.of(), List.of(), List.of());
        }
        List<Reach> all = reaches.get();
        List<String> known = word.map(Word::deeds).orElse(List.of());
        Set<String> allowed = Set.copyOf(known);
        Set<String> asked = all.stream().map(Reach::deed).collect(Collectors.toSet());
        return new Asked(all, all.stream().filter(reach -> !allowed.contains(reach.deed())).toList(),
                known.stream().filter(one -> !asked.contains(one)).toList());
    }

    /** Keeps the user's word that the study may do what was asked, and nothing else. */
    public void allow(Asked asked, Path studyFolder) throws IOException {
        change(words -> words.put(key(studyFolder), new Word("", now(), deeds(asked))));
    }

    /** Keeps the user's word for what was asked beside what has it already, as for a study that is made of another. */
    public void allowToo(Asked asked, Path studyFolder) throws IOException {
        change(words -> words.merge(key(studyFolder), new Word("", now(), deeds(asked)),
                (known, added) -> new Word(known.own(), added.at(),
                        Stream.concat(known.deeds().stream(), added.deeds().stream()).distinct().toList())));
    }

    /** Keeps that the study was made here by the user, who needs no word for what is written into it. */
    public void own(Path studyFolder) throws IOException {
        Path file = studyFolder.resolve(MADE_HERE);
        String known = mark(file);
        String mark = known.isEmpty() ? UUID.randomUUID().toString() : known;
        if (known.isEmpty()) {
            Files.writeString(file, mark + "\n");
        }
        change(words -> words.put(key(studyFolder), new Word(mark, now(), List.of())));
    }

    private static List<String> deeds(Asked asked) {
        return asked.all().stream().map(Reach::deed).distinct().toList();
    }

    private static String mark(Path file) {
        try {
            return Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS) && Files.size(file) < MAX_MARK
                    ? Files.readString(file).strip()
                    : "";
        } catch (IOException _) {
            return "";
        }
    }

    /** Keeps the word for a study that has another folder now. */
    public void moved(Path from, Path to) throws IOException {
        change(words -> {
            Word word = words.remove(key(from));
            if (word != null) {
                words.put(key(to), word);
            }
        });
    }

    /** Takes the word for a study back. @return whether there was one */
    public boolean withdraw(Path studyFolder) throws IOException {
        boolean known = words().containsKey(key(studyFolder));
        change(words -> words.remove(key(studyFolder)));
        return known;
    }

    /** What was said, by the folder of the study. */
    public Map<String, Word> said() {
        return words();
    }

    /** @throws NotAllowed if something of the candidate waits for the user's word; says what, and how to give it */
    public void require(Candidate candidate, Workload workload, Path studyFolder) throws NotAllowed {
        require(asks(candidate, workload, studyFolder), studyFolder);
    }

    /** Likewise for the whole study. */
    public void require(Study study, Path studyFolder) throws NotAllowed {
        require(asks(study, studyFolder), studyFolder);
    }

    private static void require(Asked asked, Path studyFolder) throws NotAllowed {
        if (!asked.isAllowed()) {
            throw new NotAllowed(asked, studyFolder);
        }
    }

    private static String now() {
        return Instant.now().toString();
    }

    private static String key(Path studyFolder) {
        try {
            return studyFolder.toRealPath().toString();
        } catch (IOException _) {
            // it is not there, or not any more
            Path folder = studyFolder.toAbsolutePath().normalize();
            Path parent = folder.getParent();
            return parent == null ? folder.toString() : Path.of(key(parent)).resolve(folder.getFileName()).toString();
        }
    }

    private Map<String, Word> words() {
        try {
            return read();
        } catch (IOException cause) {
            LOG.warn("what studies may do cannot be read from {}, so that each asks again", studies, cause);
            return new TreeMap<>();
        }
    }

    private Map<String, Word> read() throws IOException {
        return Files.isRegularFile(studies) ? JSON.readValue(studies.toFile(), WORDS) : new TreeMap<>();
    }

    /** What cannot be read is kept beside what is written in its place. */
    private Map<String, Word> readOrPutAside() throws IOException {
        try {
            return read();
        } catch (IOException cause) {
            Path aside = studies.resolveSibling(studies.getFileName() + ".unreadable");
            LOG.warn("what studies may do cannot be read from {}, which is put aside as {}", studies, aside, cause);
            Files.move(studies, aside, StandardCopyOption.REPLACE_EXISTING);
            return new TreeMap<>();
        }
    }

    private interface Change {
        void to(Map<String, Word> words);
    }

    /** Window and command line may say something at the same time. */
    private void change(Change change) throws IOException {
        Path folder = Objects.requireNonNull(studies.toAbsolutePath().getParent(), "a file is in a folder");
        Files.createDirectories(folder);
        // a lock of a file is one of a whole process
        synchronized (Consent.class) {
            try (FileChannel one = FileChannel.open(folder.resolve("what-studies-may-do.lock"),
                    StandardOpenOption.CREATE, StandardOpenOption.WRITE); FileLock _ = one.lock()) {
                Map<String, Word> words = readOrPutAside();
                change.to(words);
                Path next = Files.createTempFile(folder, "what-studies-may-do", ".json");
                JSON.writerWithDefaultPrettyPrinter().writeValue(next.toFile(), words);
                Files.move(next, studies, StandardCopyOption.ATOMIC_MOVE);
            }
        }
    }
}
