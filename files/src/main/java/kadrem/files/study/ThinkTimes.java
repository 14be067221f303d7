package kadrem.files.study;

import java.time.Duration;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.core.study.ThinkTime;
import kadrem.core.study.grammar.Durations;

/**
 * Think times as they are written: {@code none}, {@code 250ms}, {@code uniform 100ms to 500ms}, {@code exponential 1s},
 * {@code normal 1s sd 200ms}, {@code lognormal 1s sd 500ms}.
 */
public final class ThinkTimes {
    private static final Pattern UNIFORM = Pattern.compile("uniform\\s+(\\S+)\\s+to\\s+(\\S+)");
    private static final Pattern SPREAD = Pattern.compile("(normal|lognormal)\\s+(\\S+)\\s+sd\\s+(\\S+)");
    private static final Pattern EXPONENTIAL = Pattern.compile("exponential\\s+(\\S+)");

    private ThinkTimes() {
    }

    /** The think time that {@code text} means; empty where it is none. */
    public static Optional<ThinkTime> parse(String text) {
        String plain = text.strip();
        Matcher uniform = UNIFORM.matcher(plain);
        Matcher spread = SPREAD.matcher(plain);
        Matcher exponential = EXPONENTIAL.matcher(plain);
        if (plain.equals("none")) {
            return Optional.of(ThinkTime.NONE);
        }
        if (uniform.matches()) {
            return both(uniform.group(1), uniform.group(2)).filter(two -> two[0].compareTo(two[1]) <= 0)
                    .map(two -> new ThinkTime.Uniform(two[0], two[1]));
        }
        if (spread.matches()) {
            return both(spread.group(2), spread.group(3)).filter(two -> two[0].isPositive() && two[1].isPositive())
                    .map(two -> spread.group(1).equals("normal")
                            ? new ThinkTime.Normal(two[0], two[1])
                            : new ThinkTime.Lognormal(two[0], two[1]));
        }
        if (exponential.matches()) {
            return Durations.parse(exponential.group(1)).map(ThinkTime.Exponential::new);
        }
        return Durations.parse(plain).map(ThinkTime.Fixed::new);
    }

    private static Optional<Duration[]> both(String one, String other) {
        return Durations.parse(one).flatMap(a -> Durations.parse(other).map(b -> new Duration[]{a, b}));
    }

    /** The way to write {@code thinkTime} that {@link #parse} reads back to the same. */
    public static String write(ThinkTime thinkTime) {
        return switch (thinkTime) {
            case ThinkTime.Fixed(Duration mean) -> mean.isZero() ? "none" : Durations.write(mean);
            case ThinkTime.Uniform(Duration from, Duration to) ->
                "uniform " + Durations.write(from) + " to " + Durations.write(to);
            case ThinkTime.Normal(Duration mean, Duration deviation) ->
                "normal " + Durations.write(mean) + " sd " + Durations.write(deviation);
            case ThinkTime.Lognormal(Duration mean, Duration deviation) ->
                "lognormal " + Durations.write(mean) + " sd " + Durations.write(deviation);
            case ThinkTime.Exponential(Duration mean) -> "exponential " + Durations.write(mean);
        };
    }
}
