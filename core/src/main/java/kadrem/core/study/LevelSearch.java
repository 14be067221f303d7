package kadrem.core.study;

/** Levels of load that are tried one after the other, each measured as a result of its own. */
public sealed interface LevelSearch {
    /** The first level. */
    double from();

    /** Most levels that are tried. */
    int most();

    /**
     * Rising levels, until throughput grows less than it should or a requirement breaks.
     *
     * @param factor by which a level is multiplied for the next; 1 where levels rise by steps
     * @param step that is added to a level for the next; 0 where levels rise by a factor
     * @param leastGain smallest relative growth of throughput from one level to the next with which it goes on
     */
    record Ladder(double from, double factor, double step, int most, double leastGain) implements LevelSearch {
        /** The level after {@code level}. */
        public double after(double level) {
            return level * factor + step;
        }
    }

    /**
     * Bisection for the highest arrival rate that meets the requirements.
     *
     * @param to highest rate that is tried
     * @param precision relative distance of the two bounds at which it ends
     */
    record Ceiling(double from, double to, double precision, int most) implements LevelSearch {
    }
}
