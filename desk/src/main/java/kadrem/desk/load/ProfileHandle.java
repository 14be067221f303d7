package kadrem.desk.load;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;

import kadrem.core.study.Course;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;

/** A point of the curve by which a load profile is changed: the end of its warm-up, of a segment, or of its wind-down. */
sealed interface ProfileHandle {
    /** Where it is, in seconds after the start of a run. */
    double second(LoadProfile.Single load);

    /** Users or arrivals a second there. */
    double level(LoadProfile.Single load);

    /** The load with this point elsewhere; no piece gets shorter than a second. */
    LoadProfile.Single moved(LoadProfile.Single load, Duration to, double level);

    String words(LoadProfile.Single load);

    /** The handles of a load, from left to right; none for a search, whose levels follow from figures, nor where a file says the load. */
    static List<ProfileHandle> of(LoadProfile.Single load) {
        var handles = new ArrayList<ProfileHandle>();
        if (load.course().search().isPresent() || load.shape().table().isPresent()) {
            return handles;
        }
        if (!load.warmUp().isZero()) {
            handles.add(new EndOfWarmUp());
        }
        for (int i = 0; i < load.shape().segments().size(); i++) {
            handles.add(new EndOfSegment(i));
        }
        if (!load.course().windDown().isZero()) {
            handles.add(new EndOfWindDown());
        }
        return handles;
    }

    private static Duration atLeastASecond(Duration length) {
        return length.compareTo(Duration.ofSeconds(1)) < 0 ? Duration.ofSeconds(1) : length;
    }

    private static Course course(Course course, Duration warmUp, Duration windDown) {
        return new Course(warmUp, course.warmUpLevel(), windDown, course.visits(), course.timeout(), course.search(),
                course.stopRules());
    }

    /** Moves sideways only. */
    record EndOfWarmUp() implements ProfileHandle {
        @Override
        public double second(LoadProfile.Single load) {
            return load.warmUp().toSeconds();
        }

        @Override
        public double level(LoadProfile.Single load) {
            return load.course().warmUpLevel().orElse(load.shape().first());
        }

        @Override
        public LoadProfile.Single moved(LoadProfile.Single load, Duration to, double level) {
            return load.withCourse(course(load.course(), atLeastASecond(to), load.course().windDown()));
        }

        @Override
        public String words(LoadProfile.Single load) {
            return "end of the warm-up, " + ProfilePane.words(load, second(load), level(load));
        }
    }

    /** Moves sideways, which moves what follows along, and up and down. */
    record EndOfSegment(int index) implements ProfileHandle {
        @Override
        public double second(LoadProfile.Single load) {
            return load.warmUp().toSeconds() + before(load.shape()).toSeconds()
                    + load.shape().segments().get(index).length().toSeconds();
        }

        private Duration before(Shape shape) {
            return shape.segments().subList(0, index).stream().map(Segment::length).reduce(Duration.ZERO,
                    Duration::plus);
        }

        @Override
        public double level(LoadProfile.Single load) {
            return load.shape().segments().get(index).level();
        }

        @Override
        public LoadProfile.Single moved(LoadProfile.Single load, Duration to, double level) {
            var segments = new ArrayList<>(load.shape().segments());
            Segment old = segments.get(index);
            segments.set(index, new Segment(old.kind(),
                    atLeastASecond(to.minus(load.warmUp()).minus(before(load.shape()))), level, old.stairs()));
            return load.withShape(new Shape(segments));
        }

        @Override
        public String words(LoadProfile.Single load) {
            return "end of segment " + (index + 1) + ", " + ProfilePane.words(load, second(load), level(load));
        }
    }

    /** Moves sideways only. */
    record EndOfWindDown() implements ProfileHandle {
        @Override
        public double second(LoadProfile.Single load) {
            return load.total().toSeconds();
        }

        @Override
        public double level(LoadProfile.Single load) {
            return 0;
        }

        @Override
        public LoadProfile.Single moved(LoadProfile.Single load, Duration to, double level) {
            return load.withCourse(course(load.course(), load.warmUp(),
                    atLeastASecond(to.minus(load.warmUp()).minus(load.measured()))));
        }

        @Override
        public String words(LoadProfile.Single load) {
            return "end of the wind-down, at " + load.total().toSeconds() + " s";
        }
    }
}
