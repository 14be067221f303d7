package kadrem.core.study;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * The measured part of a load profile: users or arrivals a second over time, one segment after the other.
 *
 * @param table file of the study that says it; empty where the study says it itself
 */
public record Shape(List<Segment> segments, Optional<String> table) {
    public Shape {
        segments = List.copyOf(segments);
    }

    /** A shape that the study says itself. */
    public Shape(List<Segment> segments) {
        this(segments, Optional.empty());
    }

    /** One level for the whole time. */
    public static Shape flat(Duration length, double level) {
        return new Shape(List.of(Segment.hold(length, level)));
    }

    public Duration length() {
        return segments.stream().map(Segment::length).reduce(Duration.ZERO, Duration::plus);
    }

    /** The highest level. */
    public double peak() {
        return segments.stream().mapToDouble(Segment::level).max().orElse(0);
    }

    /** Whether it is one level for the whole time. */
    public boolean isFlat() {
        return segments.size() == 1 && segments.getFirst().kind() == Segment.Kind.HOLD;
    }

    /** The level at which it begins: 0 where it begins with a ramp. */
    public double first() {
        Segment first = segments.getFirst();
        return switch (first.kind()) {
            case HOLD, BURST -> first.level();
            case RAMP -> 0;
            case STEP -> first.level() / first.stairs();
        };
    }
}
