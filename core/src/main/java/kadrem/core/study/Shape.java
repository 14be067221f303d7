package kadrem.core.study;

import java.time.Duration;
import java.util.List;

/** The measured part of a load profile: users or arrivals a second over time, one segment after the other. */
public record Shape(List<Segment> segments) {
    public Shape {
        segments = List.copyOf(segments);
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
