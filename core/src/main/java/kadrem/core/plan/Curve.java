package kadrem.core.plan;

import java.util.ArrayList;
import java.util.List;

import kadrem.core.study.Course;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;

/**
 * A load profile as users or arrivals a second over the whole time of a run, warm-up and wind-down included: straight pieces
 * one after the other, which may jump between them. Its area is in user-seconds or arrivals.
 */
public final class Curve {
    private final List<Piece> pieces;

    /**
     * A straight piece.
     *
     * @param from second at which it begins
     * @param area of all pieces before it
     */
    private record Piece(double from, double length, double begin, double end, double area) {
        double at(double second) {
            return length == 0 ? end : begin + (end - begin) * (second - from) / length;
        }

        double areaUpTo(double second) {
            double passed = second - from;
            return area + passed * (begin + at(second)) / 2;
        }

        double to() {
            return from + length;
        }

        /** The second at which the area from the beginning reaches {@code amount}, which lies in this piece. */
        double reaches(double amount) {
            double more = amount - area;
            double slope = (end - begin) / length;
            // begin·t + slope·t²/2 = more, in the form that does not cancel
            double root = Math.sqrt(Math.max(0, begin * begin + 2 * slope * more));
            double divisor = begin + root;
            return divisor == 0 ? from : from + Math.min(length, 2 * more / divisor);
        }
    }

    /** A time in which a user is there, in ns after the start; {@code atOnce} where it comes together with others. */
    public record Stay(long fromNanos, long toNanos, boolean atOnce) {
    }

    private Curve(List<Piece> pieces) {
        this.pieces = List.copyOf(pieces);
    }

    /** The whole course of a load. */
    public static Curve of(LoadProfile.Single load) {
        var builder = new Builder();
        Course course = load.course();
        double before = course.warmUpLevel().orElse(load.shape().first());
        builder.add(seconds(course.warmUp()), before, before);
        addTo(builder, load.shape(), load.shape().first());
        builder.add(seconds(course.windDown()), builder.level, 0);
        return new Curve(builder.pieces);
    }

    /** A shape alone. */
    public static Curve of(Shape shape) {
        var builder = new Builder();
        addTo(builder, shape, shape.first());
        return new Curve(builder.pieces);
    }

    private static void addTo(Builder builder, Shape shape, double first) {
        double level = shape.segments().getFirst().kind() == Segment.Kind.STEP ? 0 : first;
        for (Segment segment : shape.segments()) {
            double length = seconds(segment.length());
            switch (segment.kind()) {
                case HOLD -> {
                    level = segment.level();
                    builder.add(length, level, level);
                }
                case RAMP -> {
                    builder.add(length, level, segment.level());
                    level = segment.level();
                }
                case STEP -> {
                    for (int stair = 1; stair <= segment.stairs(); stair++) {
                        double height = level + (segment.level() - level) * stair / segment.stairs();
                        builder.add(length / segment.stairs(), height, height);
                    }
                    level = segment.level();
                }
                case BURST -> builder.add(length, segment.level(), segment.level());
            }
        }
        builder.level = level;
    }

    private static double seconds(java.time.Duration duration) {
        return duration.toNanos() / 1e9;
    }

    private static final class Builder {
        private final List<Piece> pieces = new ArrayList<>();
        private double level;

        void add(double length, double begin, double end) {
            if (length > 0) {
                double from = pieces.isEmpty() ? 0 : pieces.getLast().to();
                double area = pieces.isEmpty() ? 0 : pieces.getLast().areaUpTo(from);
                pieces.add(new Piece(from, length, begin, end, area));
            }
        }
    }

    /** Length in seconds. */
    public double length() {
        return pieces.isEmpty() ? 0 : pieces.getLast().to();
    }

    private Piece pieceAt(double second) {
        for (Piece piece : pieces) {
            if (second < piece.to()) {
                return piece;
            }
        }
        return pieces.getLast();
    }

    /** The level at {@code second}; at a jump the one after it. */
    public double at(double second) {
        Piece piece = pieceAt(second);
        return piece.at(Math.clamp(second, piece.from, piece.to()));
    }

    /** User-seconds or arrivals from the start to {@code second}. */
    public double area(double second) {
        Piece piece = pieceAt(second);
        return piece.areaUpTo(Math.clamp(second, piece.from, piece.to()));
    }

    /** User-seconds or arrivals of the whole time. */
    public double area() {
        return area(length());
    }

    /** The first second at which the area reaches {@code amount}; the length where it never does. */
    public double reaches(double amount) {
        for (Piece piece : pieces) {
            if (amount < piece.areaUpTo(piece.to())) {
                return piece.reaches(Math.max(amount, piece.area));
            }
        }
        return length();
    }

    /** Corners of the curve as pairs of second and level, to be drawn. */
    public List<double[]> corners() {
        var corners = new ArrayList<double[]>();
        for (Piece piece : pieces) {
            corners.add(new double[]{piece.from, piece.begin});
            corners.add(new double[]{piece.to(), piece.end});
        }
        return corners;
    }

    /**
     * When user {@code number}, counted from 0, is there: while the curve lies above {@code number} + ½, so that the
     * user-seconds of all users are the curve's area.
     */
    public List<Stay> stays(long number) {
        double threshold = number + 0.5;
        var stays = new ArrayList<Stay>();
        double since = -1;
        boolean atOnce = false;
        double before = 0;
        for (Piece piece : pieces) {
            if (since < 0 && piece.begin > threshold) {
                since = piece.from;
                atOnce = piece.begin - before > 1;
            } else if (since >= 0 && piece.begin <= threshold) {
                stays.add(stay(since, piece.from, atOnce));
                since = -1;
            }
            boolean endsAbove = piece.end > threshold;
            if (since < 0 == endsAbove) {
                double crossing = piece.from + piece.length * (threshold - piece.begin) / (piece.end - piece.begin);
                if (endsAbove) {
                    since = crossing;
                    atOnce = false;
                } else {
                    stays.add(stay(since, crossing, atOnce));
                    since = -1;
                }
            }
            before = piece.end;
        }
        if (since >= 0) {
            stays.add(stay(since, length(), atOnce));
        }
        return List.copyOf(stays);
    }

    private static Stay stay(double from, double to, boolean atOnce) {
        return new Stay(Math.round(from * 1e9), Math.round(to * 1e9), atOnce);
    }
}
