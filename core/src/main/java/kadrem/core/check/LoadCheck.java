package kadrem.core.check;

import java.time.Duration;
import java.util.List;

import kadrem.core.plan.Arrivals;
import kadrem.core.plan.Curve;
import kadrem.core.study.Crowd;
import kadrem.core.study.Crowds;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.MeasuredStudy;

/** The fields of the load against each other. */
final class LoadCheck {
    private static final Duration MAX_THINK_TIME = Duration.ofHours(1);

    private final MeasuredStudy study;
    private final Findings findings;
    /** Where the fields of a crowd stand, or of the load. */
    private final String path;

    private LoadCheck(MeasuredStudy study, String path, Findings findings) {
        this.study = study;
        this.findings = findings;
        this.path = path;
    }

    static void check(MeasuredStudy study, Findings findings) {
        List<Crowd> crowds = study.load().crowds();
        boolean several = study.load() instanceof Crowds;
        for (int i = 0; i < crowds.size(); i++) {
            new LoadCheck(study, several ? "load.crowds[" + i + "]" : "load", findings).load(crowds.get(i).load());
        }
        if (several) {
            CrowdCheck.check(study, findings);
        }
        if (study.load().warmUp().isPositive() && crowds.stream().allMatch(crowd -> first(crowd.load()) == 0)) {
            findings.warning("load.warmUp", "sends nothing, since the measured part begins at 0",
                    "Give warmUpLevel, or a warm-up of 0s.");
        }
    }

    private static double first(LoadProfile.Single load) {
        return load.course().warmUpLevel().orElse(load.shape().first());
    }

    private void load(LoadProfile.Single load) {
        boolean open = load instanceof LoadProfile.Open;
        double most = open ? LoadGrammar.MAX_RATE : LoadGrammar.MAX_CONNECTIONS;
        if (!load.shape().isFlat() || load.shape().table().isPresent()) {
            segments(load.shape(), most);
        }
        load.course().warmUpLevel().ifPresent(level -> findings.range(path + ".warmUpLevel", level, 0, most));
        if (load.course().visits().isPresent() && !load.shape().isFlat()) {
            findings.error("load.visits", "stands beside segments",
                    "A number of visits needs one level for all of them.");
        }
        load.course().search().ifPresent(search -> search(search, load, most));
        switch (load) {
            case LoadProfile.Closed closed -> {
                if (!closed.shape().isFlat()) {
                    findings.range(path + ".segments", closed.users(), 1, most);
                }
                if (closed.thinkTime().mean().compareTo(MAX_THINK_TIME) > 0) {
                    findings.error(path + ".thinkTime", "is over an hour", "Use a shorter pause.");
                }
            }
            case LoadProfile.Open arrivals -> {
                if (!(arrivals.arrivalsPerSecond() > 0)) {
                    boolean curve = arrivals.shape().table().isPresent();
                    findings.error(path + (curve ? ".curve" : ".segments"),
                            curve ? "has no arrivals" : "have no arrivals",
                            "Give one of them a level above 0.");
                }
                double number = Curve.of(load).area();
                if (arrivals.timeline().isEmpty() && arrivals.spacing() == LoadProfile.Spacing.POISSON
                        && number > Arrivals.Poisson.MAX) {
                    findings.error(path + ".spacing", "is poisson for " + (long) number + " arrivals",
                            "Use constant spacing, or at most " + Arrivals.Poisson.MAX + " arrivals in a run.");
                }
            }
        }
    }

    private void segments(Shape shape, double most) {
        for (int i = 0; i < shape.segments().size(); i++) {
            Segment segment = shape.segments().get(i);
            if (segment.level() > most) {
                findings.error(shape.table().isPresent() ? path + ".curve" : path + ".segments[" + i + "]",
                        "has the level " + Findings.plain(segment.level()),
                        "Use 0 to " + (long) most + ".");
            }
        }
        if (shape.length().toNanosPart() != 0) {
            findings.error(path + ".segments", "take " + shape.length().toMillis() + " ms together",
                    "Use whole seconds, such as 5s.");
        }
    }

    private void search(LevelSearch search, LoadProfile.Single load, double most) {
        String at = search instanceof LevelSearch.Ladder ? "load.ladder" : "load.ceiling";
        if (!load.shape().isFlat() || load.course().visits().isPresent()) {
            findings.error(at, "stands beside segments or a number of visits",
                    "Each level is held for the time that measured says; remove the others.");
        }
        if (search.from() > most) {
            findings.error(at + ".from", "is " + search.from(), "Use a level above 0 and up to " + (long) most + ".");
        }
        switch (search) {
            case LevelSearch.Ladder ladder -> {
                double last = ladder.from();
                for (int i = 1; i < Math.min(100, ladder.most()); i++) {
                    last = ladder.after(last);
                }
                if (last > most) {
                    findings.error(at + ".most", "is " + ladder.most() + ", with which it would reach " + (long) last,
                            "Use fewer levels; at most " + (long) most + " can be made.");
                }
            }
            case LevelSearch.Ceiling ceiling -> {
                if (load instanceof LoadProfile.Closed) {
                    findings.error(at, "searches an arrival rate, but the model is closed",
                            "Use model: open, or a ladder.");
                }
                if (!(ceiling.to() > ceiling.from() && ceiling.to() <= most)) {
                    findings.error(at + ".to", "is " + ceiling.to(),
                            "Use a rate above from and up to " + (long) most + ".");
                }
                if (study.question().requirements().isEmpty()) {
                    findings.error(at, "has nothing that a rate must meet",
                            "Add question.require, such as {metric: p99, limit: 100ms}.");
                }
            }
        }
    }
}
