package kadrem.core.study;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** How much load, and for how long. The lengths of warm-up, measured part and wind-down are whole seconds. */
public sealed interface LoadProfile permits LoadProfile.Single, Crowds {

    Course course();

    /** Connections held open to the candidate. */
    int connections();

    /** Length of the measured part. */
    Duration measured();

    /** Those who make it, each with its part of the workload: one without a name where the study has no crowds. */
    List<Crowd> crowds();

    default Duration warmUp() {
        return course().warmUp();
    }

    default Duration timeout() {
        return course().timeout();
    }

    /** Warm-up, measured part and wind-down. */
    default Duration total() {
        return warmUp().plus(measured()).plus(course().windDown());
    }

    /** Whether it is at one level for the whole of its measured part. */
    default boolean isSteady() {
        return crowds().stream().allMatch(crowd -> crowd.load().shape().isFlat());
    }

    /** The load, where all that make it are alike; empty where there are crowds. */
    default Optional<Single> single() {
        return this instanceof Single one ? Optional.of(one) : Optional.empty();
    }

    /** The instants of elsewhere that its arrivals follow. */
    default Optional<Timeline> timeline() {
        return Optional.empty();
    }

    /** A load of users, or of arrivals, who are all alike. */
    sealed interface Single extends LoadProfile permits Closed, Open {
        /** Users or arrivals a second in the measured part. */
        Shape shape();

        /** The same load with another shape. */
        Single withShape(Shape other);

        /** The same load with another course. */
        Single withCourse(Course other);

        @Override
        default Duration measured() {
            return shape().length();
        }

        @Override
        default List<Crowd> crowds() {
            return List.of(Crowd.everyone(this));
        }

        /** One level of a search: this load held at {@code level}. */
        default Single at(double level) {
            return withShape(Shape.flat(measured(), level)).withCourse(course().withoutSearch());
        }

        /** What its level counts: {@code users} or {@code arrivals/s}. */
        default String unit() {
            return this instanceof Open ? "arrivals/s" : "users";
        }
    }

    /**
     * A number of users, each on a connection of its own, who wait for an answer, pause, and call again.
     *
     * @param thinkTime pause between an answer and the user's next call, for calls that have none of their own
     * @param pace time from one visit of a user to its next, fixed in advance; without it a visit follows on the other
     */
    record Closed(Shape shape, ThinkTime thinkTime, Optional<Duration> pace, Course course) implements Single {
        /** A fixed number of users without a pace. */
        public Closed(int users, ThinkTime thinkTime, Duration warmUp, Duration measured, Duration timeout) {
            this(Shape.flat(measured, users), thinkTime, Optional.empty(), Course.of(warmUp, timeout));
        }

        /** Users who pause for the same time after each call. */
        public Closed(int users, Duration thinkTime, Duration warmUp, Duration measured, Duration timeout) {
            this(users, new ThinkTime.Fixed(thinkTime), warmUp, measured, timeout);
        }

        /** Most users at the same time. */
        public int users() {
            return (int) Math.ceil(Math.max(shape.peak(), course.warmUpLevel().orElse(0)));
        }

        @Override
        public int connections() {
            return users();
        }

        @Override
        public Closed withShape(Shape other) {
            return new Closed(other, thinkTime, pace, course);
        }

        @Override
        public Closed withCourse(Course other) {
            return new Closed(shape, thinkTime, pace, other);
        }

        public Closed withPace(Duration other) {
            return new Closed(shape, thinkTime, Optional.of(other), course);
        }
    }

    /**
     * Visits that begin at a given rate whether or not earlier ones were answered.
     *
     * @param connections connections opened ahead, and number of users whose visits come in turn
     * @param connectionLimit connections at most: while there are fewer, an arrival that finds all of them held opens another; then it
     *            waits for one
     * @param timeline instants that arrivals are due at, of which the shape then tells the rate over time; empty where the shape says all
     */
    record Open(Shape shape, Spacing spacing, int connections, int connectionLimit, Course course,
            Optional<Timeline> timeline) implements Single {
        /** Connections at most where a study does not say. */
        public static final int USUAL_LIMIT = 4096;

        public Open {
            if (connectionLimit < connections) {
                throw new IllegalArgumentException(connectionLimit + " connections at most, and " + connections
                        + " ahead");
            }
        }

        /** Arrivals by their rate. */
        public Open(Shape shape, Spacing spacing, int connections, int connectionLimit, Course course) {
            this(shape, spacing, connections, connectionLimit, course, Optional.empty());
        }

        /** Arrivals that wait while all connections are held. */
        public Open(Shape shape, Spacing spacing, int connections, Course course) {
            this(shape, spacing, connections, connections, course);
        }

        /** One rate for the whole time; arrivals wait while all connections are held. */
        public Open(double arrivalsPerSecond, Spacing spacing, int connections, Duration warmUp, Duration measured,
                Duration timeout) {
            this(Shape.flat(measured, arrivalsPerSecond), spacing, connections, Course.of(warmUp, timeout));
        }

        public Open withConnectionLimit(int limit) {
            return new Open(shape, spacing, connections, limit, course, timeline);
        }

        /** The highest rate. */
        public double arrivalsPerSecond() {
            return shape.peak();
        }

        /** Its arrivals come by the rate, no longer by a timeline. */
        @Override
        public Open withShape(Shape other) {
            return new Open(other, spacing, connections, connectionLimit, course);
        }

        @Override
        public Open withCourse(Course other) {
            return new Open(shape, spacing, connections, connectionLimit, other, timeline);
        }
    }

    /** How arrivals follow each other. */
    enum Spacing {
        /** At equal distances. */
        CONSTANT("constant"),
        /** At independent exponential distances, as many unrelated users would come. */
        POISSON("poisson");

        private final String id;

        Spacing(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }

        public static Optional<Spacing> byId(String id) {
            return Arrays.stream(values()).filter(spacing -> spacing.id.equals(id)).findFirst();
        }
    }
}
