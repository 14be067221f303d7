package kadrem.files.report;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Launch;
import kadrem.core.study.Crowd;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Segment;
import kadrem.core.study.Timeline;
import kadrem.core.study.Study;
import kadrem.core.study.Visit;
import kadrem.core.study.Written;
import kadrem.core.study.grammar.Durations;
import kadrem.core.verdict.Wording;

/** How a study was set up, in words. */
record SetUp(Study study, List<RunRecord> runs) {
    /** What the study says of its candidates: attribute, and a text for each candidate. */
    Map<String, List<String>> candidates() {
        var rows = new LinkedHashMap<String, List<String>>();
        row(rows, "id", Candidate::id);
        if (study instanceof FigureStudy) {
            return rows;
        }
        row(rows, "address", one -> one.address() + new TreeMap<>(one.elsewhere()).entrySet().stream()
                .map(other -> "; for " + other.getKey() + " " + other.getValue().address())
                .collect(Collectors.joining()));
        row(rows, "wire", one -> one.access().wire().protocol().id() + ", connection "
                + one.access().wire().reuse().name().toLowerCase(Locale.ROOT).replace('_', ' '));
        row(rows, "launch", one -> one.launch().map(Launch::command).map(words -> String.join(" ", words))
                .orElse("runs already"));
        row(rows, "processor set", one -> one.launch().flatMap(Launch::processors).orElse("any"));
        row(rows, "reset", one -> one.reset().map(Candidate.Reset::words).orElse("nothing"));
        return rows;
    }

    /** The attributes in which the candidates differ; ids, addresses and the commands with their ports do so in every study. */
    List<String> differing() {
        var names = new TreeSet<String>();
        Stream.of(candidates(), fingerprints()).flatMap(rows -> rows.entrySet().stream())
                .filter(row -> row.getValue().stream().distinct().count() > 1).map(Map.Entry::getKey)
                .filter(name -> !List.of("id", "address", "command").contains(name)).forEach(names::add);
        return List.copyOf(names);
    }

    private void row(Map<String, List<String>> rows, String name, Function<Candidate, String> text) {
        rows.put(name, study.candidates().stream().map(text).toList());
    }

    /** What the runs found: attribute, and all that was found for each candidate. */
    Map<String, List<String>> fingerprints() {
        var names = new TreeSet<String>();
        runs.forEach(run -> names.addAll(run.fingerprint().keySet()));
        var rows = new LinkedHashMap<String, List<String>>();
        names.forEach(name -> row(rows, name, candidate -> found(
                run -> run.candidate().equals(candidate.id())
                        ? Optional.ofNullable(run.fingerprint().get(name))
                        : Optional.empty())));
        return rows;
    }

    /** The machines that load was made on, "attribute: what was found". */
    List<String> machine() {
        var names = new TreeSet<String>();
        runs.forEach(run -> names.addAll(run.machine().keySet()));
        return names.stream().map(name -> name + ": " + found(run -> Optional.ofNullable(run.machine().get(name))))
                .toList();
    }

    private String found(Function<RunRecord, Optional<String>> of) {
        return runs.stream().map(of).flatMap(Optional::stream).distinct().limit(5).collect(Collectors.joining("; "));
    }

    /** A line for each visit. */
    static List<String> workload(MeasuredStudy study) {
        var lines = new ArrayList<String>();
        if (!study.workload().first().isEmpty()) {
            lines.add("first, once a user: " + calls(study.workload().first()));
        }
        for (Visit visit : study.workload().visits()) {
            lines.add(visit.name() + ", share " + Written.significant(visit.share())
                    + (visit.repeat() > 1 ? ", " + visit.repeat() + " times" : "") + ": " + calls(visit.calls()));
        }
        return lines;
    }

    private static String calls(List<Call> calls) {
        return calls.stream().map(Call::words).collect(Collectors.joining(", then "));
    }

    /** The load profile in a sentence, or one for each crowd. */
    static String load(MeasuredStudy study) {
        LoadProfile load = study.load();
        String what = load.crowds().stream().map(SetUp::crowd).collect(Collectors.joining(". "));
        return what + (load.single().isPresent() ? "" : ". All together: warm-up of " + Durations.write(load.warmUp()))
                + "; a call is given up after " + Durations.write(load.timeout()) + ".";
    }

    private static String crowd(Crowd crowd) {
        LoadProfile.Single load = crowd.load();
        String what = switch (load) {
            case LoadProfile.Closed closed -> "closed model, users who wait for an answer, at most " + closed.users()
                    + closed.pace().map(pace -> ", a visit every " + Durations.write(pace)).orElse("");
            case LoadProfile.Open open -> "open model, arrivals whether or not answers come ("
                    + (open.timeline().isPresent() ? "as they came elsewhere" : open.spacing().id() + " spacing")
                    + "), over at most " + open.connections() + " connections";
        };
        String shape = load.timeline().map(SetUp::timeline).orElseGet(() -> crowd.own().table().isPresent()
                ? "levels of " + crowd.own().table().get() + " for " + Durations.write(crowd.length())
                : crowd.own().segments().stream().map(SetUp::segment).collect(Collectors.joining(", ")));
        return crowd.isEveryone()
                ? Wording.capital(what) + ": warm-up of " + Durations.write(load.warmUp()) + ", then "
                        + (load.course().search().isPresent() ? "levels one after the other" : shape)
                : "Crowd " + crowd.name() + " (makes " + String.join(", ", crowd.makes()) + "), "
                        + what + ": from " + Durations.write(crowd.start()) + " on " + shape;
    }

    private static String timeline(Timeline timeline) {
        return timeline.all() + " arrivals as they came in " + Durations.write(timeline.length()) + " of "
                + timeline.file()
                + " from " + Durations.write(timeline.from()) + " on"
                + (timeline.speed() == 1 ? "" : ", " + Written.significant(timeline.speed()) + " times as fast")
                + (timeline.repeat() == 1 ? "" : ", " + timeline.repeat() + " times");
    }

    private static String segment(Segment segment) {
        return segment.kind().id() + " " + (segment.kind() == Segment.Kind.HOLD ? "" : "to ")
                + Written.significant(segment.level()) + " for " + Durations.write(segment.length());
    }

    /** The plan in a sentence. */
    String plan() {
        return (study.plan().isAdaptive()
                ? "Adaptive plan: at least " + study.plan().rounds() + " rounds, at most " + study.plan().most()
                : study.plan().rounds() + " rounds")
                + (study.plan().together() ? ", all candidates of a round at once" : ", candidates in random order")
                + "; seed " + study.plan().seed() + ".";
    }
}
