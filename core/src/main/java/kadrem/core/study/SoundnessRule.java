package kadrem.core.study;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** The rules by which a run is sound, each a figure against a limit that a study may change. */
public enum SoundnessRule {
    /** The generator's own part of a percentile that decides; the largest of them counts. */
    LATE("late", Unit.SHARE, false, 0.05, "%s of a deciding percentile was the generator's own delay (at most %s)"),
    /** Exceptions in a lane, a driver or the recorder, and seconds that could not be kept. */
    OWN_FAULTS("own faults", Unit.COUNT, false, 0, "%s faults of Kadrem's own (at most %s)"),
    /** Less than this share of the intended arrivals is another load than the one asked for. */
    ACHIEVED_LOAD("achieved load", Unit.SHARE, true, 0.99, "%s of the due arrivals were sent (at least %s)"),
    /** Arrivals still waiting at the end, as a share of all: beyond it the figures depend on the length of the run. */
    BACKLOG("backlog", Unit.SHARE, false, 0.01,
            "%s of the arrivals still waited for a connection at the end (at most %s)"),
    /** A lane that computes for more than this share of the time has no reserve left; what it costs shows as late. */
    GENERATOR_CPU("generator CPU", Unit.SHARE, false, 0.90,
            "the generator's lanes sent and read for %s of the time (at most %s)"),
    /** Time that the generator's collector took. */
    GENERATOR_GC("generator GC", Unit.SHARE, false, 0.01,
            "garbage collection took %s of the generator's time (at most %s)"),
    /** A virtual machine that loses more of its processors' time than this has noisy neighbours. */
    STEAL("other work on the host", Unit.SHARE, false, 0.05,
            "the machine below took %s of the processors' time away (at most %s)"),
    /** What is neither the candidate nor Kadrem; the system's own work for their connections is among it. */
    OTHER_PROCESSES("other processes", Unit.SHARE, false, 0.20,
            "other processes used %s of the processors' time (at most %s)"),
    /** Where the steady state begins (MSER-5), against the length of the warm-up. */
    WARM_UP("warm-up", Unit.SECONDS, false, 0, "response times settle after %s (the warm-up is %s)"),
    /** A trend that is significant (Mann-Kendall), as its change over the measured part (Theil-Sen); below 0 where they fall. */
    DRIFT("drift", Unit.SHARE, false, 0.10, "response times %s of their median over the measured part (at most %s)"),
    /** Calls under way against throughput times response time. */
    LITTLES_LAW("Little's law", Unit.SHARE, false, 0.25,
            "calls under way differ by %s from throughput times response time (at most %s)"),
    /** The wall clock against the clock that only goes forward. */
    CLOCK_STEPS("clock steps", Unit.MILLISECONDS, false, 50, "the clock was set by %s during the run (at most %s)"),
    /** Fewest samples above p99 for p99 to be a number at all; under 50 it is weak. */
    TAIL_SUPPORT("tail support", Unit.COUNT, true, 10, "%s samples lie above p99 (at least %s)"),
    /** Whether the candidate's process was replaced. */
    CANDIDATE_PROCESS("candidate process", Unit.COUNT, false, 0,
            "the candidate's process ended or was replaced %s times (at most %s)"),
    /** Whether the stream was another than that of the round's other candidates. */
    STREAM_DIGEST("stream digest", Unit.COUNT, false, 0,
            "%s of the round's other streams differ from this one (at most %s)");

    /** How a figure of a rule is to be read. */
    public enum Unit {
        MILLISECONDS, SECONDS, SHARE, COUNT
    }

    private final String label;
    private final Unit unit;
    private final boolean atLeast;
    private final double limit;
    private final String sentence;

    SoundnessRule(String label, Unit unit, boolean atLeast, double limit, String sentence) {
        this.label = label;
        this.unit = unit;
        this.atLeast = atLeast;
        this.limit = limit;
        this.sentence = sentence;
    }

    /** The words used on screens and in run records. */
    public String label() {
        return label;
    }

    /** The word used in study files. */
    public String id() {
        return label.toLowerCase(Locale.ROOT).replace("'", "").replace(' ', '-');
    }

    public Unit unit() {
        return unit;
    }

    /** The limit of a study that gives none. */
    public double usualLimit() {
        return limit;
    }

    /** What a rule looks at, and so what follows where it is broken. */
    public enum Subject {
        /** The generator's own time and the wholeness of the record: the round is set aside. */
        RECORD,
        /** What the run was made with and beside: noise, which is told; a round is set aside only where the study gives a limit. */
        SURROUNDINGS,
        /** The candidate: a finding about it, which keeps nothing out. */
        CANDIDATE
    }

    public Subject subject() {
        return switch (this) {
            case LATE, OWN_FAULTS, CLOCK_STEPS, STREAM_DIGEST -> Subject.RECORD;
            case GENERATOR_CPU, GENERATOR_GC, STEAL, OTHER_PROCESSES -> Subject.SURROUNDINGS;
            case ACHIEVED_LOAD, BACKLOG, WARM_UP, DRIFT, LITTLES_LAW, TAIL_SUPPORT, CANDIDATE_PROCESS ->
                Subject.CANDIDATE;
        };
    }

    /**
     * Whether a round in which it is broken is set aside.
     *
     * @param limited whether the study gives a limit of its own
     */
    public boolean setsAside(boolean limited) {
        return subject() == Subject.RECORD || subject() == Subject.SURROUNDINGS && limited;
    }

    /** Whether a figure keeps to a limit. */
    public boolean accepts(double figure, double against) {
        return atLeast ? figure >= against : Math.abs(figure) <= against;
    }

    /** The finding in a sentence. */
    public String sentence(double figure, double against) {
        String told = this == DRIFT
                ? (figure < 0 ? "fall by " : "rise by ") + written(Math.abs(figure))
                : written(figure);
        return String.format(Locale.ROOT, sentence, told, written(against));
    }

    /** A figure of this rule with its unit. */
    public String written(double figure) {
        return switch (unit) {
            case MILLISECONDS -> String.format(Locale.ROOT, "%.2f ms", figure);
            case SECONDS -> String.format(Locale.ROOT, "%.0f s", figure);
            case SHARE -> String.format(Locale.ROOT, "%.1f %%", figure * 100);
            case COUNT -> String.format(Locale.ROOT, "%.0f", figure);
        };
    }

    public static Optional<SoundnessRule> byId(String id) {
        return Arrays.stream(values()).filter(rule -> rule.id().equals(id)).findFirst();
    }

    public static Optional<SoundnessRule> byLabel(String label) {
        return Arrays.stream(values()).filter(rule -> rule.label.equals(label)).findFirst();
    }
}
