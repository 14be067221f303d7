package kadrem.desk.load;

import java.util.Optional;

import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Written;
import kadrem.core.study.grammar.Durations;

/** A load in a few words. */
final class LoadWords {
    private LoadWords() {
    }

    /** "40 arrivals/s for 16s", or how many crowds there are. */
    static String summary(LoadProfile load) {
        return load.single().map(LoadWords::summary).orElseGet(
                () -> load.crowds().size() + " crowds for " + Durations.write(load.measured()));
    }

    private static String summary(LoadProfile.Single load) {
        double first = load.course().search().map(LevelSearch::from).orElse(load.shape().peak());
        String unit = first == 1 && load instanceof LoadProfile.Closed ? " user" : " " + load.unit();
        String time = " for " + Durations.write(load.measured());
        Optional<LevelSearch> levels = load.course().search();
        if (levels.isPresent()) {
            return (levels.get() instanceof LevelSearch.Ladder ? "ladder from " : "ceiling from ")
                    + Written.significant(levels.get().from()) + unit;
        }
        if (load.timeline().isPresent()) {
            return load.timeline().get().all() + " arrivals as they came" + time;
        }
        return load.course().visits().isPresent()
                ? load.course().visits().getAsLong() + " visits, " + Written.significant(load.shape().peak()) + unit
                : (load.shape().isFlat() ? "" : "up to ") + Written.significant(load.shape().peak()) + unit + time;
    }

    /** What its model means. */
    static String explanation(LoadProfile.Single load) {
        return load instanceof LoadProfile.Open
                ? (load.timeline().isPresent()
                        ? "Visits begin when they came elsewhere,"
                        : "Visits begin at a given rate, at equal (constant) or random (poisson) distances,")
                        + " whether or not earlier ones were answered. Where all connections are held another is opened, up to"
                        + " the number at most."
                        + (load.timeline().isPresent()
                                ? ""
                                : " Import an access log (Workload) to send what came elsewhere.")
                : "Users wait for an answer, pause, and call again, so a slow candidate is asked less. With a pace a visit"
                        + " is due every so often for each user, and waiting is counted.";
    }
}
