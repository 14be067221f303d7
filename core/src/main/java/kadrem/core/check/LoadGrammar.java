package kadrem.core.check;

import static kadrem.core.study.grammar.Field.choice;
import static kadrem.core.study.grammar.Field.group;
import static kadrem.core.study.grammar.Field.groups;
import static kadrem.core.study.grammar.Field.line;
import static kadrem.core.study.grammar.Field.list;
import static kadrem.core.study.grammar.Field.number;
import static kadrem.core.study.grammar.Field.seconds;
import static kadrem.core.study.grammar.Field.share;
import static kadrem.core.study.grammar.Field.time;
import static kadrem.core.study.grammar.Field.whole;

import java.time.Duration;
import java.util.Arrays;
import java.util.function.Function;
import java.util.stream.Stream;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.StopRule;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Group;

/** The fields of the load: users or arrivals over time, searches, and what ends a run. */
final class LoadGrammar {
    static final int MAX_CONNECTIONS = 20_000;
    static final double MAX_RATE = 1_000_000;
    private static final double ABOVE_NOTHING = Math.nextUp(0.0);
    private static final Duration NO_TIME = Duration.ZERO;
    private static final Duration HOUR = Duration.ofHours(1);
    private static final Duration DAY = Duration.ofDays(1);
    private static final String TIME = "\\d{1,12}(\\.\\d{1,9})?(ns|us|ms|s|min|h)";
    private static final String THINK_TIME = "\\s*(none|" + TIME.replace("(ns", "\\s*(ns") + "|uniform\\s+" + TIME
            + "\\s+to\\s+" + TIME + "|exponential\\s+" + TIME + "|(log)?normal\\s+" + TIME + "\\s+sd\\s+" + TIME
            + ")\\s*";

    private static final String MODEL = "model";
    private static final String OPEN = "open";
    private static final String CLOSED = "closed";
    private static final String[] SEARCHES = {"ladder", "ceiling"};
    private static final String[] SHAPES = {"segments", "curve", "timeline", "ladder", "ceiling"};
    private static final String CROWDS = "crowds";
    private static final String[] PROFILES = {"segments", "curve", "timeline"};
    private static final Duration YEAR = Duration.ofDays(366);

    private LoadGrammar() {
    }

    static Field thinkTime(String words) {
        return line("thinkTime", words, "uniform 100ms to 500ms", THINK_TIME,
                "Write none, 250ms, uniform 100ms to 500ms, exponential 1s, normal 1s sd 200ms or lognormal 1s sd 500ms.");
    }

    static Field timeout(String words) {
        return time("timeout", words, Duration.ofMillis(1), Duration.ofMinutes(10), "5s");
    }

    private static Group segment() {
        return Group.of("the measured part, piece by piece").needed()
                .way(length("hold", "one level"),
                        number("at", "the level", 0, MAX_RATE, "50").otherwise("the one before"))
                .way(length("ramp", "evenly from the level before"),
                        number("to", "the level", 0, MAX_RATE, "100").needed())
                .way(length("step", "in equal stairs from the level before"),
                        number("to", "the level", 0, MAX_RATE, "100").needed(),
                        whole("stairs", "number of stairs", 1, 1000, "3").usually("4"))
                .way(length("burst", "another level for a while, and back"),
                        number("at", "the level", 0, MAX_RATE, "300").needed());
    }

    private static Field length(String name, String words) {
        return time(name, words, Duration.ofMillis(1), DAY, "30s").needed();
    }

    private static Group curve() {
        return Group.of("the level over time, as a table says it",
                line("file", "CSV file of the study, a row for each piece of time", "curves/friday.csv").needed(),
                line("column", "its column of levels", "rate").usually("rate"),
                time("each", "time that a row stands for", Duration.ofMillis(1), DAY, "1min").usually("1min"),
                number("shortened", "how many times shorter it is made, at the same levels", 1, 100_000, "60")
                        .usually("1"),
                number("times", "what the levels are multiplied by", ABOVE_NOTHING, MAX_RATE, "0.5").usually("1"));
    }

    private static Group timeline() {
        return Group.of("arrivals as they came elsewhere",
                line("file", "CSV file of the study: when each came, its visit and its values", "timelines/friday.csv")
                        .needed(),
                number("speed", "how many times faster than in the file", 0.001, 100_000, "10").usually("1"),
                time("from", "where the window of it begins", NO_TIME, YEAR, "1h").usually("0s"),
                time("length", "how long the window is, in the file's time", Duration.ofMillis(1), YEAR, "10min")
                        .otherwise("to its end"),
                whole("repeat", "how often the window is made, one after the other", 1, 10_000, "3").usually("1"));
    }

    private static Group ladder() {
        return Group.of("rising levels, until throughput grows no longer or a requirement breaks",
                number("from", "first level", ABOVE_NOTHING, MAX_RATE, "10").needed(),
                whole("most", "most levels", 2, 100, "12").usually("12"),
                share("gain", "growth of throughput that is one", 0, 1, "5%").usually("5%"))
                .way(number("factor", "how many times the level before", Math.nextUp(1.0), MAX_RATE, "2").usually("2"))
                .way(number("by", "how much above the level before", ABOVE_NOTHING, MAX_RATE, "10"));
    }

    private static Group ceiling() {
        return Group.of("the search for the highest arrival rate that meets the requirements",
                number("from", "a rate that does", ABOVE_NOTHING, MAX_RATE, "100").needed(),
                number("to", "a rate that surely does not", ABOVE_NOTHING, MAX_RATE, "5000").needed(),
                share("precision", "how well it is to be known", ABOVE_NOTHING, Math.nextDown(1.0), "5%").usually("5%"),
                whole("most", "most levels", 2, 100, "12").usually("12"));
    }

    /** What a load is, and its level where that is one, of a crowd or of all. */
    private static Stream<Field> level(String... notBeside) {
        return Stream.of(choice(MODEL, "arrivals, or users who wait", OPEN, CLOSED).needed(),
                number("arrivalsPerSecond", "arrivals a second", ABOVE_NOTHING, MAX_RATE, "400").when(MODEL, OPEN)
                        .without(PROFILES).without(notBeside),
                whole("users", "users", 1, MAX_CONNECTIONS, "20").when(MODEL, CLOSED).without(PROFILES)
                        .without(notBeside),
                seconds("measured", "length of the measured part", Duration.ofSeconds(1), DAY, "20s")
                        .without(PROFILES));
    }

    /** How users or arrivals follow each other, of a crowd or of all. */
    private static Stream<Field> manner() {
        return Stream.of(choice("spacing", "how arrivals follow each other",
                Arrays.stream(LoadProfile.Spacing.values()).map(LoadProfile.Spacing::id).toArray(String[]::new))
                .when(MODEL, OPEN).without("timeline"),
                whole("connections", "opened ahead, and number of users whose visits come in turn", 1,
                        MAX_CONNECTIONS, "64").usually("64").when(MODEL, OPEN),
                whole("connectionLimit", "while there are fewer, an arrival that finds all held opens another", 1,
                        MAX_CONNECTIONS, "64").otherwise(Integer.toString(LoadProfile.Open.USUAL_LIMIT))
                        .when(MODEL, OPEN),
                thinkTime("pause of a user after calls that have none of their own").when(MODEL, CLOSED),
                time("pace", "a visit of each user is due so often", Duration.ofMillis(1), HOUR, "2s")
                        .otherwise("each follows on the other").when(MODEL, CLOSED));
    }

    private static Field warmUpLevel(String... notBeside) {
        return number("warmUpLevel", "level of the warm-up", 0, MAX_RATE, "20")
                .otherwise("the first level, of a timeline its mean").without(notBeside);
    }

    /** The ways to say a level that changes, of a crowd or of all. */
    private static Stream<Field> overTime() {
        return Stream.of(groups("segments", segment(), "{hold: 30s, at: 50}").without("curve", "timeline"),
                group("curve", curve(), "{file: curves/friday.csv}").without("segments", "timeline"),
                group("timeline", timeline(), "{file: timelines/friday.csv, speed: 10}").when(MODEL, OPEN)
                        .without("segments", "curve"));
    }

    private static Group crowd() {
        return Group.of("users or arrivals with visits and a load of their own, on the run's time axis",
                Stream.of(Stream.of(line("name", "what it is called", "readers").needed(),
                        list("makes", "names of its visits, which no other crowd makes", "[browse]").needed(),
                        list("first", "calls of the first part that its users make", "[sign in]")
                                .otherwise("all of them"),
                        seconds("start", "when it comes, after the beginning of the measured part", NO_TIME, DAY, "20s")
                                .usually("0s")),
                        level(), manner(), Stream.of(warmUpLevel()), overTime()).flatMap(Function.identity())
                        .toArray(Field[]::new));
    }

    static Group load() {
        Group stop = Group.of("what ends a run early",
                StudyGrammar.metric(StopRule.METRICS.stream().sorted().toList(), "p95").needed(),
                line("over", "limit in the metric's own unit", "2s").needed(),
                seconds("for", "so long", Duration.ofSeconds(1), HOUR, "10s").usually("10s"),
                choice("then", "the next run is made, or nothing more", "go-on", "end"));
        Stream<Field> visits = Stream
                .of(whole("visits", "ends the measured part after so many visits", 1, Long.MAX_VALUE, "1000")
                        .otherwise("by time").without(SHAPES));
        Stream<Field> course = Stream.of(
                seconds("warmUp", "sent before the measured part and not counted", NO_TIME, HOUR, "5s").usually("5s"),
                warmUpLevel(SEARCHES).without(CROWDS),
                seconds("windDown", "time in which the level falls to 0 afterwards; not counted", NO_TIME, HOUR, "5s")
                        .usually("0s").without(SEARCHES).without("timeline"),
                timeout("after which a call is given up").usually("5s"));
        Stream<Field> searches = Stream.of(group("ladder", ladder(), "{from: 10}"),
                group("ceiling", ceiling(), "{from: 100, to: 5000}"));
        Stream<Field> others = Stream.of(
                groups(CROWDS, crowd(), "{name: readers, makes: [browse], model: closed, users: 20, measured: 60s}"),
                groups("stopWhen", stop, "{metric: p95, over: 2s, for: 20s}"));
        return Group.of("users or arrivals over time",
                Stream.of(withoutCrowds(Stream.of(level(SEARCHES), visits, manner()).flatMap(Function.identity())),
                        course, withoutCrowds(Stream.concat(overTime(), searches)), others)
                        .flatMap(Function.identity()).toArray(Field[]::new));
    }

    private static Stream<Field> withoutCrowds(Stream<Field> fields) {
        return fields.map(field -> field.without(CROWDS));
    }
}
