package kadrem.files.study;

import java.time.Duration;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;

import kadrem.core.study.Course;
import kadrem.core.study.Judgement;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Requirement;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.StopRule;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Workload;
import kadrem.core.study.grammar.Durations;
import kadrem.core.study.grammar.Kind;
import kadrem.core.study.grammar.Words;

/** From the fields below {@code load}, {@code question.require} and {@code soundness} to what they mean. */
final class LoadReader {
    private static final Kind ANY = new Kind.Decimal(0, Double.MAX_VALUE);
    private static final double MIB = 1024.0 * 1024;

    /** Fields that say how much load there is, and belong to a crowd where there are some. */
    private static final List<String> BESIDE_CROWDS = List.of("model", "arrivalsPerSecond", "users", "measured",
            "visits", "spacing", "connections", "connectionLimit", "thinkTime", "pace", "warmUpLevel", "segments",
            "curve", "timeline", "ladder", "ceiling");

    private LoadReader() {
    }

    /** @param workload whose visits and value lists a timeline names */
    static LoadProfile read(Fields fields, Workload workload, FileContents files) {
        OptionalLong visits = fields.has("visits") ? OptionalLong.of(fields.whole("visits")) : OptionalLong.empty();
        Optional<LevelSearch> search = search(fields);
        List<StopRule> stopRules = fields.groups("stopWhen").stream().flatMap(group -> stopRule(group).stream())
                .toList();
        List<Fields> crowds = fields.groups("crowds");
        if (!crowds.isEmpty()) {
            BESIDE_CROWDS.stream().filter(fields::has).forEach(name -> fields.error(name, "stands beside crowds",
                    "Write it in each crowd that it is for, or remove it."));
            return new CrowdsReader(fields, stopRules, workload, files).read(crowds);
        }
        boolean open = isOpen(fields);
        ShapeReader.OverTime read = new ShapeReader(fields, open, workload, files).read(visits);
        return single(fields, read, new Course(fields.time("warmUp"), warmUpLevel(fields, read),
                read.timeline().isPresent() ? Duration.ZERO : fields.time("windDown"), visits, fields.time("timeout"),
                search, stopRules));
    }

    static boolean isOpen(Fields fields) {
        return !fields.text("model").equals("closed");
    }

    /** The users or arrivals that the fields of a load or a crowd say, with a course that is read already. */
    static LoadProfile.Single single(Fields fields, ShapeReader.OverTime read, Course course) {
        if (!isOpen(fields)) {
            return new LoadProfile.Closed(read.shape(), WorkloadReader.thinkTime(fields).orElse(ThinkTime.NONE),
                    fields.has("pace") ? Optional.of(fields.time("pace")) : Optional.empty(), course);
        }
        int connections = fields.count("connections");
        return new LoadProfile.Open(read.shape(),
                fields.choice("spacing", LoadProfile.Spacing::byId).orElse(LoadProfile.Spacing.CONSTANT), connections,
                connectionLimit(fields, connections), course, read.timeline());
    }

    /** Before a timeline as many come as in the mean of its window. */
    static OptionalDouble warmUpLevel(Fields fields, ShapeReader.OverTime read) {
        if (fields.has("warmUpLevel")) {
            return OptionalDouble.of(fields.number("warmUpLevel"));
        }
        return read.timeline().map(timeline -> OptionalDouble.of(timeline.all() / (timeline.nanos() / 1e9)))
                .orElse(OptionalDouble.empty());
    }

    /** Never below the connections that are opened ahead; the check tells of a number that cannot be. */
    private static int connectionLimit(Fields fields, int connections) {
        int usual = Math.max(connections, LoadProfile.Open.USUAL_LIMIT);
        int limit = fields.count("connectionLimit", usual);
        if (limit < connections) {
            fields.error("connectionLimit", "is " + limit + ", less than the " + connections
                    + " connections that are opened ahead", "Write at least " + connections + ".");
        }
        return Math.max(connections, limit);
    }

    private static Optional<LevelSearch> search(Fields fields) {
        if (fields.has("ladder") && fields.has("ceiling")) {
            fields.error("ceiling", "stands beside ladder", "Use one of them.");
        }
        Optional<LevelSearch> ladder = fields.optionalGroup("ladder").map(group -> {
            boolean steps = group.has("by");
            return new LevelSearch.Ladder(group.number("from"), steps ? 1 : group.number("factor"),
                    steps ? group.number("by") : 0, group.count("most"), group.share("gain"));
        });
        return ladder.or(() -> fields.optionalGroup("ceiling").map(group -> new LevelSearch.Ceiling(
                group.number("from"), group.number("to"), group.share("precision"), group.count("most"))));
    }

    private static Optional<StopRule> stopRule(Fields fields) {
        return fields.choice("metric", Metric::byId).map(metric -> new StopRule(metric, limit(fields, "over", metric),
                fields.time("for"), fields.text("then").equals("end")));
    }

    /** A limit in the metric's own unit. */
    private static double limit(Fields fields, String name, Metric metric) {
        return switch (metric.unit()) {
            case NANOSECONDS -> fields.as(name, new Kind.Time(Duration.ZERO, Duration.ofDays(1), false), "200ms",
                    Durations::parse).orElse(Duration.ZERO).toNanos();
            case SHARE -> fields.as(name, new Kind.Share(0, 1), "0.1%", Words::share).orElse(0.0);
            case PER_SECOND, CPU_MILLISECONDS -> fields.as(name, ANY, "500", Words::number).orElse(0.0);
            case BYTES -> fields.as(name, ANY, "512", Words::number).orElse(0.0) * MIB;
        };
    }

    /** {@code question.require}: a metric and its limit; of memory in MiB. */
    static List<Requirement> requirements(Fields question) {
        return question.groups("require").stream().flatMap(group -> QuestionReader.metric(group)
                .map(metric -> new Requirement(metric, limit(group, "limit", metric))).stream()).toList();
    }

    /** {@code soundness}: limits by rule, unsound runs that were taken in and rounds that were left out by hand. */
    static Judgement judgement(Fields fields) {
        Map<SoundnessRule, Double> limits = new EnumMap<>(SoundnessRule.class);
        fields.optionalGroup("limits").ifPresent(group -> Arrays.stream(SoundnessRule.values())
                .filter(rule -> group.has(rule.id())).forEach(rule -> limits.put(rule, switch (rule.unit()) {
                    case MILLISECONDS -> group.time(rule.id()).toNanos() / 1e6;
                    case SECONDS -> group.time(rule.id()).toNanos() / 1e9;
                    case SHARE -> group.share(rule.id());
                    case COUNT -> group.number(rule.id());
                })));
        return new Judgement(limits,
                fields.groups("takenIn").stream()
                        .map(group -> new Judgement.TakenIn(group.text("run"), group.text("reason"))).toList(),
                fields.groups("leftOut").stream()
                        .map(group -> new Judgement.LeftOutRound(group.count("round"), group.text("reason"))).toList());
    }
}
