package kadrem.files.imports.log;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.DoubleConsumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.study.Call;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.core.study.Written;
import kadrem.core.study.grammar.Durations;
import kadrem.files.imports.ImportException;
import kadrem.files.imports.Naming;
import kadrem.files.study.Edit;
import kadrem.files.study.NewStudy;

/**
 * Traffic as a log has it, ready to become the load of a study: its instants a timeline, its addresses calls. Who asked, and with which
 * program, is not read; credentials become references, and what may tell of people is replaced by made-up texts.
 */
public final class AccessLog {
    private static final long SECOND = 1_000_000_000L;
    private static final long MINUTE = 60;
    /** A log that is longer is made for its busiest minutes, until somebody says otherwise. */
    private static final long LONG_MINUTES = 10;
    private static final int BUSIEST_MINUTES = 5;
    private static final int MOST_EXAMPLES = 3;

    private final Path file;
    private final LogFile log;
    private final Traffic traffic;
    private final boolean untouched;
    private final Workload workload;
    private final TreeMap<Long, Integer> perMinute = new TreeMap<>();
    private final List<Long> strange = new ArrayList<>();
    private long lines;
    private long bare;
    private boolean wholeSeconds = true;
    private long first = Long.MAX_VALUE;
    private long last = Long.MIN_VALUE;

    private AccessLog(Path file, LogFile log, MeasuredStudy study, LogChoice choice) {
        this.file = file;
        this.log = log;
        workload = study.workload();
        untouched = NewStudy.isUntouched(workload);
        traffic = new Traffic(choice);
    }

    /**
     * Looks through a log. Nothing is written.
     *
     * @param study that it is for, whose names are not used twice
     * @param progress given the share of the file that was read
     * @throws ImportException if it is none
     */
    public static AccessLog read(Path file, MeasuredStudy study, LogChoice choice, DoubleConsumer progress)
            throws ImportException {
        if (!Files.isRegularFile(file)) {
            throw new ImportException("There is no file " + file + ".");
        }
        var log = new AccessLog(file, LogFile.of(file, choice.fields()), study, choice);
        log.log.read(log::look, progress);
        log.conclude();
        return log;
    }

    private void look(long number, Optional<LogLine> read) {
        lines++;
        if (read.isEmpty()) {
            traffic.leaveOut("that are not read as such");
            if (strange.size() < MOST_EXAMPLES) {
                strange.add(number);
            }
            return;
        }
        LogLine line = read.get();
        long before = traffic.taken();
        if (line.isCall()) {
            traffic.add(line);
        } else {
            bare++;
        }
        if (!line.isCall() || traffic.taken() > before) {
            wholeSeconds &= line.at().wholeSecond();
            first = Math.min(first, line.at().nanos());
            last = Math.max(last, line.at().nanos());
            perMinute.merge(Math.floorDiv(line.at().nanos(), MINUTE * SECOND), 1, Integer::sum);
        }
    }

    private void conclude() throws ImportException {
        if (perMinute.isEmpty()) {
            throw new ImportException("None of its " + lines + " lines can be taken: " + leftOut() + ".");
        }
        first = Math.floorDiv(first, SECOND) * SECOND;
        Set<String> names = Stream.concat(workload.calls().stream().map(Call::name),
                workload.visits().stream().map(Visit::name)).collect(Collectors.toCollection(HashSet::new));
        if (untouched) {
            names.clear();
        }
        names.addAll(Set.of("late"));
        Set<String> lists = workload.values().stream().map(ValueList::name)
                .collect(Collectors.toCollection(HashSet::new));
        lists.addAll(Set.of("at", "visit"));
        traffic.conclude(names, lists);
    }

    private String leftOut() {
        return traffic.leftOut().entrySet().stream().map(one -> number(one.getValue()) + " " + one.getKey())
                .collect(Collectors.joining(", "));
    }

    private static String number(long number) {
        return String.format(Locale.ROOT, "%,d", number);
    }

    /** Lines that become arrivals. */
    public long arrivals() {
        return traffic.taken() + bare;
    }

    /** "99,412 of 100,000 lines …": what is taken, and what is not. */
    public String summary() {
        String taken = number(arrivals()) + " of " + number(lines) + " lines of " + log.words() + " are taken, over "
                + Written.time(length()) + ": " + (bare > 0
                        ? "arrivals of the visits that the study has"
                        : traffic.calls().size() + (traffic.calls().size() == 1 ? " call" : " calls"));
        return taken + (traffic.leftOut().isEmpty() ? "" : "; left out: " + leftOut());
    }

    /** The calls, each with how often it comes, the most frequent first. */
    public List<String> calls() {
        return traffic.calls().stream().map(call -> number(call.count()) + "  " + call.words()).toList();
    }

    /** The value lists: "berths: 1 to 2400". */
    public List<String> lists() {
        return traffic.lists().stream().map(LoggedList::words).toList();
    }

    /** What its user should know. */
    public List<String> notes() {
        var notes = new ArrayList<String>();
        if (wholeSeconds) {
            notes.add("it tells whole seconds: within each the arrivals are spread at random, by a fixed seed");
        }
        if (!strange.isEmpty()) {
            notes.add("what could not be read begins with line "
                    + strange.stream().map(String::valueOf).collect(Collectors.joining(", ")));
        }
        traffic.lists().stream().filter(LoggedList::isMadeUp)
                .forEach(list -> notes.add("the values of \"" + list.stem() + "\" may tell of people: the list "
                        + list.name()
                        + " has made-up texts in their place; replace them by what a test system knows, or keep the values of "
                        + list.stem()));
        traffic.calls().stream().flatMap(call -> call.secrets().stream()).distinct()
                .forEach(variable -> notes.add("a credential was not taken over: the environment variable " + variable
                        + " has to be set"));
        if (isLong()) {
            notes.add("its busiest " + BUSIEST_MINUTES + " minutes are made, from "
                    + Written.time(Duration.ofSeconds(busiest()))
                    + " after its beginning; Load says which, and how fast");
        }
        return notes;
    }

    private Duration length() {
        return Duration.ofSeconds((last - first) / SECOND + 1);
    }

    private boolean isLong() {
        return length().toMinutes() > LONG_MINUTES;
    }

    /** Second, from the beginning, from which the busiest minutes go on. */
    private long busiest() {
        long best = 0;
        long from = perMinute.firstKey();
        for (long minute : perMinute.keySet()) {
            long sum = perMinute.subMap(minute, minute + BUSIEST_MINUTES).values().stream().mapToLong(one -> one).sum();
            if (sum > best) {
                best = sum;
                from = minute;
            }
        }
        return Math.max(0, from * MINUTE - first / SECOND);
    }

    /** What was written, and the edits that make it the load of the study. */
    public record Made(List<Path> files, List<Edit> edits) {
    }

    /**
     * Writes the timeline, and value lists that are long, into files of the study.
     *
     * @param folder of the study
     * @throws ImportException if the log is not as it was looked at; nothing is left then
     */
    public Made write(Path folder, DoubleConsumer progress) throws ImportException {
        var files = new ArrayList<Path>();
        try {
            var edits = new ArrayList<Edit>();
            int at = workload.values().size();
            for (LoggedList list : traffic.lists()) {
                String values = list.hasFile() ? free(folder, "values/" + list.name()) : "";
                if (list.hasFile()) {
                    files.add(folder.resolve(values));
                    TimelineFile.writeCsv(folder.resolve(values), csv -> {
                        csv.printRecord(list.name());
                        for (String row : list.rows()) {
                            csv.printRecord(row);
                        }
                    });
                }
                edits.add(new Edit.Insert("workload.values", at++, list.item(values)));
            }
            int visit = workload.visits().size();
            for (LoggedCall call : traffic.calls()) {
                edits.add(new Edit.Insert("workload.visits", visit++, call.visit()));
            }
            if (untouched && !traffic.calls().isEmpty()) {
                edits.add(new Edit.Remove("workload.visits", 0));
            }
            String name = String.valueOf(file.getFileName()).replaceFirst("(\\.(log|txt|csv|json|jsonl|ndjson|gz))+$",
                    "");
            String timeline = free(folder, "timelines/" + Naming.word(name));
            files.add(folder.resolve(timeline));
            new TimelineFile(log, traffic, first, wholeSeconds).write(folder.resolve(timeline), progress);
            edits.add(new Edit.Put("load", load(timeline)));
            return new Made(files, edits);
        } catch (IOException cause) {
            discard(files);
            throw new ImportException("It could not be written: " + cause.getMessage());
        } catch (ImportException cause) {
            discard(files);
            throw cause;
        }
    }

    /** Removes what was written, where it is not to stay. */
    public static void discard(List<Path> files) {
        for (Path one : files) {
            try {
                Files.deleteIfExists(one);
            } catch (IOException _) {
                // nothing names it
            }
        }
    }

    private static String free(Path folder, String stem) {
        String name = stem + ".csv";
        for (int i = 2; Files.exists(folder.resolve(name)); i++) {
            name = stem + "-" + i + ".csv";
        }
        return name;
    }

    private Map<String, Optional<Object>> load(String timeline) {
        Map<String, Object> group = new LinkedHashMap<>();
        group.put("file", timeline);
        if (isLong()) {
            group.put("from", Durations.write(Duration.ofSeconds(busiest())));
            group.put("length", BUSIEST_MINUTES + "min");
        }
        Map<String, Optional<Object>> load = new LinkedHashMap<>();
        load.put("model", Optional.of("open"));
        load.put("timeline", Optional.of(group));
        for (String other : List.of("arrivalsPerSecond", "users", "measured", "visits", "spacing", "thinkTime", "pace",
                "warmUpLevel", "windDown", "segments", "curve", "ladder", "ceiling")) {
            load.put(other, Optional.empty());
        }
        return load;
    }
}
