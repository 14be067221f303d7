package kadrem.files.study;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.stream.Collectors;

import kadrem.core.study.Course;
import kadrem.core.study.Judgement;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Requirement;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.StopRule;
import kadrem.core.study.ThinkTime;

/** From the fields below {@code load}, {@code question.require} and {@code soundness} to what they mean. */
final class LoadReader {
    private static final Duration USUAL = Duration.ofSeconds(5);

    private LoadReader() {
    }

    static LoadProfile read(Fields fields) {
        String model = fields.text("model", "open");
        boolean open = !model.equals("closed");
        if (open && !model.equals("open") && !model.isEmpty()) {
            fields.error("model", "is \"" + model + "\"", "Use open (arrivals) or closed (users).");
        }
        OptionalLong visits = fields.has("visits")
                ? OptionalLong.of(fields.integer("visits", Optional.empty(), "1000"))
                : OptionalLong.empty();
        Shape shape = shape(fields, open, visits);
        var course = new Course(fields.duration("warmUp", Optional.of(USUAL), "5s"),
                fields.has("warmUpLevel")
                        ? OptionalDouble.of(fields.number("warmUpLevel", Optional.empty(), "20"))
                        : OptionalDouble.empty(),
                fields.duration("windDown", Optional.of(Duration.ZERO), "5s"), visits,
                fields.duration("timeout", Optional.of(USUAL), "5s"), search(fields),
                fields.groups("stopWhen").stream().flatMap(group -> stopRule(group).stream()).toList());
        int connections = open ? fields.smallInteger("connections", Optional.of(64L), "64") : 1;
        LoadProfile load = open
                ? new LoadProfile.Open(shape, spacing(fields),
                        connections, connectionLimit(fields, connections), course)
                : new LoadProfile.Closed(shape, WorkloadReader.thinkTime(fields).orElse(ThinkTime.NONE),
                        fields.has("pace")
                                ? Optional.of(fields.duration("pace", Optional.empty(), "2s"))
                                : Optional.empty(),
                        course);
        // the figures of the other model may stand by, so that one can go back to it
        fields.passOver("users", "thinkTime", "pace", "arrivalsPerSecond", "spacing", "connections", "connectionLimit",
                "measured");
        fields.warnOfUnknown();
        return load;
    }

    /** Never below the connections that are opened ahead; the check tells of a number that cannot be. */
    private static int connectionLimit(Fields fields, int connections) {
        int usual = Math.max(connections, LoadProfile.Open.USUAL_LIMIT);
        int limit = fields.smallInteger("connectionLimit", Optional.of((long) usual), "64");
        if (limit < connections) {
            fields.error("connectionLimit", "is " + limit + ", less than the " + connections
                    + " connections that are opened ahead", "Write at least " + connections + ".");
        }
        return Math.max(connections, limit);
    }

    /** One level for the measured part, or segments. With a number of visits the measured part is the longest time. */
    private static Shape shape(Fields fields, boolean open, OptionalLong visits) {
        if (fields.has("segments")) {
            var segments = new ArrayList<Segment>();
            double before = 0;
            for (Fields group : fields.groups("segments")) {
                Segment segment = segment(group, before);
                segments.add(segment);
                before = segment.kind() == Segment.Kind.BURST ? before : segment.level();
            }
            return segments.isEmpty() ? Shape.flat(Duration.ofSeconds(1), 1) : new Shape(segments);
        }
        boolean searched = fields.has("ladder") || fields.has("ceiling");
        String level = open ? "arrivalsPerSecond" : "users";
        double value = searched && !fields.has(level)
                ? 1
                : open
                        ? fields.number(level, Optional.empty(), "400")
                        : fields.smallInteger(level, Optional.empty(), "20");
        Optional<Duration> longest = visits.isPresent()
                ? Optional.of(longest(open, value, visits.getAsLong()))
                : Optional.empty();
        return Shape.flat(fields.duration("measured", longest, "20s"), value);
    }

    /** Time that so many arrivals surely take, also at random distances; for users, who may be slow, ten minutes. */
    private static Duration longest(boolean open, double rate, long visits) {
        return open
                ? Duration.ofSeconds((long) Math.ceil((visits + 6 * Math.sqrt(visits)) / Math.max(rate, 1e-3)) + 1)
                : Duration.ofMinutes(10);
    }

    private static Segment segment(Fields fields, double before) {
        List<Segment.Kind> kinds = Arrays.stream(Segment.Kind.values()).filter(kind -> fields.has(kind.id())).toList();
        if (kinds.size() != 1) {
            fields.error(kinds.isEmpty() ? "hold" : kinds.get(1).id(),
                    kinds.isEmpty() ? "is missing" : "stands beside " + kinds.getFirst().id(),
                    "A segment is one of {hold: 30s, at: 50}, {ramp: 10s, to: 100}, {step: 30s, to: 100, stairs: 3},"
                            + " {burst: 5s, at: 300}.");
            return Segment.hold(Duration.ofSeconds(1), before);
        }
        Segment.Kind kind = kinds.getFirst();
        Duration length = fields.duration(kind.id(), Optional.empty(), "30s");
        boolean to = kind == Segment.Kind.RAMP || kind == Segment.Kind.STEP;
        double level = fields.number(to ? "to" : "at",
                kind == Segment.Kind.HOLD ? Optional.of(before) : Optional.empty(), "100");
        int stairs = kind == Segment.Kind.STEP ? fields.smallInteger("stairs", Optional.of(4L), "4") : 1;
        fields.warnOfUnknown();
        return new Segment(kind, length, level, stairs);
    }

    private static Optional<LevelSearch> search(Fields fields) {
        if (fields.has("ladder") && fields.has("ceiling")) {
            fields.error("ceiling", "stands beside ladder", "Use one of them.");
        }
        Optional<LevelSearch> ladder = fields.optionalGroup("ladder").map(group -> {
            boolean steps = group.has("by");
            var made = new LevelSearch.Ladder(group.number("from", Optional.empty(), "10"),
                    steps ? 1 : group.number("factor", Optional.of(2.0), "2"),
                    steps ? group.number("by", Optional.empty(), "10") : 0,
                    group.smallInteger("most", Optional.of(12L), "12"),
                    group.share("gain", Optional.of(0.05), "5%"));
            group.warnOfUnknown();
            return made;
        });
        return ladder.or(() -> fields.optionalGroup("ceiling").map(group -> {
            var made = new LevelSearch.Ceiling(group.number("from", Optional.empty(), "100"),
                    group.number("to", Optional.empty(), "5000"), group.share("precision", Optional.of(0.05), "5%"),
                    group.smallInteger("most", Optional.of(12L), "12"));
            group.warnOfUnknown();
            return made;
        }));
    }

    private static Optional<StopRule> stopRule(Fields fields) {
        Optional<Metric> metric = metric(fields, StopRule.METRICS.stream().sorted().toList());
        String then = fields.optional("then").orElse("go-on");
        if (!then.equals("go-on") && !then.equals("end")) {
            fields.error("then", "is \"" + then + "\"", "Use go-on (the next run is made) or end (of the campaign).");
        }
        Optional<StopRule> rule = metric.map(known -> new StopRule(known, limit(fields, "over", known),
                fields.duration("for", Optional.of(Duration.ofSeconds(10)), "10s"), then.equals("end")));
        fields.passOver("over", "for");
        fields.warnOfUnknown();
        return rule;
    }

    private static Optional<Metric> metric(Fields fields, List<Metric> allowed) {
        String id = fields.text("metric", "p95");
        Optional<Metric> metric = Metric.byId(id).filter(allowed::contains);
        if (metric.isEmpty() && !id.isEmpty()) {
            fields.error("metric", "is \"" + id + "\"",
                    "Use one of: " + allowed.stream().map(Metric::id).collect(Collectors.joining(", ")) + ".");
        }
        return metric;
    }

    /** A limit in the metric's own unit. */
    private static double limit(Fields fields, String name, Metric metric) {
        return switch (metric.unit()) {
            case NANOSECONDS -> fields.duration(name, Optional.empty(), "200ms").toNanos();
            case SHARE -> fields.share(name, Optional.empty(), "0.1%");
            case PER_SECOND, CPU_MILLISECONDS -> fields.number(name, Optional.empty(), "500");
            case BYTES -> fields.number(name, Optional.empty(), "512") * 1024 * 1024;
        };
    }

    /** {@code question.require}: a metric and its limit; of memory in MiB. */
    static List<Requirement> requirements(Fields question) {
        var requirements = new ArrayList<Requirement>();
        for (Fields group : question.groups("require")) {
            metric(group, List.of(Metric.values()))
                    .ifPresent(metric -> requirements.add(new Requirement(metric, limit(group, "limit", metric))));
            group.passOver("limit");
            group.warnOfUnknown();
        }
        return requirements;
    }

    private static LoadProfile.Spacing spacing(Fields fields) {
        String id = fields.optional("spacing").orElse(LoadProfile.Spacing.CONSTANT.id());
        return LoadProfile.Spacing.byId(id).orElseGet(() -> {
            fields.error("spacing", "is \"" + id + "\"", "Use constant or poisson.");
            return LoadProfile.Spacing.CONSTANT;
        });
    }

    /** {@code soundness}: limits by rule, unsound runs that were taken in and rounds that were left out by hand. */
    static Judgement judgement(Fields fields) {
        Map<SoundnessRule, Double> limits = new EnumMap<>(SoundnessRule.class);
        fields.optionalGroup("limits").ifPresent(group -> {
            for (String name : group.names()) {
                SoundnessRule.byId(name).ifPresent(rule -> limits.put(rule, switch (rule.unit()) {
                    case MILLISECONDS -> group.duration(name, Optional.empty(), "5ms").toNanos() / 1e6;
                    case SECONDS -> group.duration(name, Optional.empty(), "20s").toNanos() / 1e9;
                    case SHARE -> group.share(name, Optional.empty(), "10%");
                    case COUNT -> group.number(name, Optional.empty(), "50");
                }));
            }
            group.warnOfUnknown();
        });
        List<Judgement.TakenIn> takenIn = fields.groups("takenIn").stream().map(group -> {
            var one = new Judgement.TakenIn(group.text("run", "a1b2c3d4"),
                    group.text("reason", "the burst of steal was in the first second only"));
            group.warnOfUnknown();
            return one;
        }).toList();
        List<Judgement.LeftOutRound> leftOut = fields.groups("leftOut").stream().map(group -> {
            var one = new Judgement.LeftOutRound(group.smallInteger("round", Optional.empty(), "3"),
                    group.text("reason", "the backup ran in it"));
            group.warnOfUnknown();
            return one;
        }).toList();
        fields.warnOfUnknown();
        return new Judgement(limits, takenIn, leftOut);
    }
}
