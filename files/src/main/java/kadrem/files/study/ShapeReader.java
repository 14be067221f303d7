package kadrem.files.study;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;

import kadrem.core.plan.Instants;
import kadrem.core.plan.Recorded;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.Timeline;
import kadrem.core.study.Workload;
import kadrem.core.study.grammar.Durations;

/** From the fields that say the load over time to its shape, and to the timeline that its arrivals follow. */
final class ShapeReader {
    private static final String TIMELINE = "timeline";
    private static final String CURVE = "curve";
    private static final String FILE = "file";
    private static final List<String> ONLY_ONE = List.of("segments", CURVE, TIMELINE);
    private static final double NANOS = 1e9;
    /** Pieces of time in which the rate of a timeline is told. */
    private static final long MOST_PIECES = 600;
    private static final Duration LONGEST = Duration.ofDays(1);
    private static final Shape NOTHING = Shape.flat(Duration.ofSeconds(1), 1);

    private final Fields fields;
    private final boolean open;
    private final Workload workload;
    private final FileContents files;

    ShapeReader(Fields fields, boolean open, Workload workload, FileContents files) {
        this.fields = fields;
        this.open = open;
        this.workload = workload;
        this.files = files;
    }

    /** The measured part, and the timeline if there is one. */
    record OverTime(Shape shape, Optional<Timeline> timeline) {
        static OverTime of(Shape shape) {
            return new OverTime(shape, Optional.empty());
        }
    }

    OverTime read(OptionalLong visits) {
        List<String> said = ONLY_ONE.stream().filter(fields::has).toList();
        if (said.size() > 1) {
            fields.error(said.get(1), "stands beside " + said.getFirst(),
                    "Each says the load over time: keep one of them.");
            return OverTime.of(NOTHING);
        }
        if (said.isEmpty()) {
            return OverTime.of(level(visits));
        }
        if (said.getFirst().equals(TIMELINE)) {
            return fields.optionalGroup(TIMELINE).map(group -> timeline(group, visits)).orElse(OverTime.of(NOTHING));
        }
        boolean curve = said.getFirst().equals(CURVE);
        List<Segment> segments = curve
                ? fields.optionalGroup(CURVE).map(this::curve).orElse(List.of())
                : segments();
        Optional<String> table = curve ? fields.optionalGroup(CURVE).map(group -> group.text(FILE)) : Optional.empty();
        return OverTime.of(segments.isEmpty() ? NOTHING : new Shape(segments, table));
    }

    /** One level for the measured part. With a number of visits the measured part is the longest time. */
    private Shape level(OptionalLong visits) {
        boolean searched = fields.has("ladder") || fields.has("ceiling");
        String level = open ? "arrivalsPerSecond" : "users";
        if (!searched && !fields.has(level)) {
            fields.error(level, "is missing", "Add " + level + ": " + (open ? "400" : "20"));
        }
        if (visits.isEmpty() && !fields.has("measured")) {
            fields.error("measured", "is missing", "Add measured: 20s");
        }
        double value = fields.number(level, 1);
        return Shape.flat(fields.time("measured", longest(value, visits.orElse(1))), value);
    }

    /** Time that so many arrivals surely take, also at random distances; for users, who may be slow, ten minutes. */
    private Duration longest(double rate, long visits) {
        return open
                ? Duration.ofSeconds((long) Math.ceil((visits + 6 * Math.sqrt(visits)) / Math.max(rate, 1e-3)) + 1)
                : Duration.ofMinutes(10);
    }

    private List<Segment> segments() {
        var segments = new ArrayList<Segment>();
        double before = 0;
        for (Fields group : fields.groups("segments")) {
            Segment segment = segment(group, before);
            segments.add(segment);
            before = segment.kind() == Segment.Kind.BURST ? before : segment.level();
        }
        return segments;
    }

    private static Segment segment(Fields fields, double before) {
        Segment.Kind kind = Arrays.stream(Segment.Kind.values()).filter(one -> fields.has(one.id())).findFirst()
                .orElse(Segment.Kind.HOLD);
        Duration length = fields.time(kind.id());
        boolean to = kind == Segment.Kind.RAMP || kind == Segment.Kind.STEP;
        double level = fields.number(to ? "to" : "at", before);
        return new Segment(kind, length, level, kind == Segment.Kind.STEP ? fields.count("stairs") : 1);
    }

    // ---- a table of levels --------------------------------------------------------------------------------------

    /** A piece that is held for each row; the last one takes what is missing of a whole second. */
    private List<Segment> curve(Fields group) {
        double times = group.number("times");
        Duration each = Duration.ofNanos(Math.round(group.time("each").toNanos() / group.number("shortened")));
        if (each.compareTo(Duration.ofMillis(1)) < 0) {
            group.error("shortened", "leaves less than 1 ms for each row", "Use a smaller number.");
            return List.of();
        }
        List<String> column = files.column(group, group.text(FILE), group.text("column"));
        if (each.multipliedBy(column.size()).compareTo(LONGEST) > 0) {
            group.error(FILE,
                    "takes " + each.multipliedBy(column.size()).toHours() + " h in " + column.size() + " rows",
                    "Shorten it to a day at most, such as shortened: 60.");
            return List.of();
        }
        var segments = new ArrayList<Segment>();
        for (int i = 0; i < column.size(); i++) {
            double level = level(column.get(i));
            if (!(level >= 0 && level < Double.POSITIVE_INFINITY)) {
                group.error(FILE, "has \"" + shown(column.get(i)) + "\" in row " + (i + 1),
                        "Write a level in each row, such as 120.5.");
                return List.of();
            }
            segments.add(Segment.hold(each, level * times));
        }
        Duration missing = Duration.ofNanos(
                Math.floorMod(-each.multipliedBy(segments.size()).toNanos(), (long) NANOS));
        if (!segments.isEmpty() && missing.isPositive()) {
            segments.set(segments.size() - 1,
                    Segment.hold(each.plus(missing), segments.getLast().level()));
        }
        return segments;
    }

    private static double level(String text) {
        try {
            return Double.parseDouble(text.strip());
        } catch (NumberFormatException _) {
            return Double.NaN;
        }
    }

    private static String shown(String text) {
        return text.length() > 40 ? text.substring(0, 40) + "…" : text;
    }

    // ---- instants of elsewhere ----------------------------------------------------------------------------------

    private OverTime timeline(Fields group, OptionalLong visits) {
        for (String other : List.of("ladder", "ceiling")) {
            if (fields.has(other)) {
                fields.error(other, "stands beside timeline, which has no level", "Keep one of them.");
            }
        }
        if (visits.isPresent()) {
            fields.error("visits", "stands beside timeline, which says how many there are", "Remove it.");
        }
        if (!open) {
            fields.error(TIMELINE, "stands in a load of users who wait",
                    "Write model: open, since its arrivals wait for nobody.");
        }
        return files.timeline(group, workload)
                .flatMap(kept -> window(group, kept.ready().digest(), kept.ready().file().toString(), kept.instants()))
                .orElse(OverTime.of(NOTHING));
    }

    private Optional<OverTime> window(Fields group, String digest, String ready, Instants instants) {
        // the end of the file is the whole second after its last arrival
        Duration end = Duration.ofSeconds(instants.nanos(instants.count() - 1) / 1_000_000_000L + 1);
        Duration from = group.time("from");
        Duration length = group.has("length") ? group.time("length") : end.minus(from);
        long first = instants.firstAt(from.toNanos());
        long count = instants.firstAt(from.plus(length).toNanos()) - first;
        if (count <= 0) {
            group.error(group.has("length") ? "length" : "from", "leaves no arrival of the " + instants.count() + " in "
                    + group.text(FILE), "They go on until " + Durations.write(end) + " after its beginning.");
            return Optional.empty();
        }
        var timeline = new Timeline(group.text(FILE), digest, from, length, group.number("speed"),
                group.count("repeat"),
                first, count, ready);
        double seconds = timeline.nanos() / NANOS;
        if (seconds > LONGEST.toSeconds()) {
            group.error("speed", "lets a run take " + Math.round(seconds / 3600) + " h",
                    "Use a higher speed or a shorter window: a day at most.");
            return Optional.empty();
        }
        if (timeline.all() / seconds > 1e6) {
            group.error("speed", "lets " + Math.round(timeline.all() / seconds) + " visits arrive a second",
                    "Use a lower speed: a million a second at most.");
            return Optional.empty();
        }
        return Optional.of(new OverTime(shape(timeline, instants, (long) Math.ceil(seconds)), Optional.of(timeline)));
    }

    /** How many come in pieces of time alike; at least two, since it is never one level. */
    private static Shape shape(Timeline timeline, Instants instants, long seconds) {
        long whole = seconds * 1_000_000_000L;
        int pieces = (int) Math.clamp(seconds, 2, MOST_PIECES);
        var segments = new ArrayList<Segment>();
        Recorded arrivals = Recorded.measured(timeline, instants);
        long begun = 0;
        for (int i = 1; i <= pieces; i++) {
            long from = whole / pieces * (i - 1);
            long to = i == pieces ? whole : whole / pieces * i;
            long due = arrivals.dueBefore(to);
            segments.add(Segment.hold(Duration.ofNanos(to - from), (due - begun) * NANOS / (to - from)));
            begun = due;
        }
        return new Shape(segments, Optional.of(timeline.file()));
    }
}
