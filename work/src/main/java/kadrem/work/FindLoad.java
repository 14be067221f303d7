package kadrem.work;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Predicate;

import kadrem.core.proposal.Probe;
import kadrem.core.proposal.ProposedLoad;
import kadrem.core.study.Candidate;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Plan;
import kadrem.core.study.grammar.Durations;
import kadrem.files.run.StudyLock;
import kadrem.files.study.Edit;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Probing;
import kadrem.load.campaign.Step;
import kadrem.load.generator.GeneratorProcess;

/** Finds a load that all candidates bear with ease, and proposes a plan for it. */
public final class FindLoad {
    /** Fields of a load that is no constant rate of arrivals. */
    private static final List<String> OTHERS = List.of("users", "thinkTime", "pace", "spacing", "visits",
            "connectionLimit",
            "segments", "curve", "timeline", "ladder", "ceiling", "warmUpLevel", "windDown");

    private FindLoad() {
    }

    /**
     * What was found.
     *
     * @param proposed empty where a candidate bore nothing, which {@link #troubles()} tells of
     */
    public record Found(List<Probe> probes, Optional<ProposedLoad> proposed, List<String> troubles) {
        public Found {
            probes = List.copyOf(probes);
            troubles = List.copyOf(troubles);
        }
    }

    /**
     * Probes the candidates, one after the other, each for a few seconds with eight users at most.
     *
     * @param isUp candidates that the user has launched already, which are used as they are and left running
     * @param told of each step, on the calling thread
     * @throws NotDone if they may not be asked, or are being measured; the objection says why
     * @throws InterruptedException if the thread was interrupted; what was launched is stopped
     */
    public static Found run(StudyFile file, Predicate<Candidate> isUp, BiConsumer<Candidate, Step> told)
            throws NotDone, InterruptedException {
        Preflight.requireAsking(file);
        MeasuredStudy study = file.measured();
        if (study.load().single().isEmpty()) {
            return new Found(List.of(), Optional.empty(),
                    List.of("The study has crowds, each with a load of its own: say in Load how much each is"));
        }
        List<Probe> probes;
        try (StudyLock _ = Measurement.lock(file); var generator = new GeneratorProcess()) {
            probes = new Probing(study, file.folder(), Program.command(), generator, isUp, told).run();
        }
        var troubles = new ArrayList<String>();
        for (Probe probe : probes) {
            String name = study.candidate(probe.candidate()).map(Candidate::name).orElse(probe.candidate());
            if (!probe.problem().isEmpty()) {
                troubles.add(name + ": " + probe.problem());
            } else if (probe.best().isEmpty()) {
                troubles.add(name + " answers a single user badly: more than " + Math.round(Probe.BORNE * 100)
                        + " % of the calls have no good answer; a rehearsal shows why");
            }
        }
        return new Found(probes, troubles.isEmpty() ? ProposedLoad.of(study, probes) : Optional.empty(), troubles);
    }

    /** What makes a proposed load and plan the study's own; limits and stop rules of its load stay, and its seed. */
    public static List<Edit> edits(ProposedLoad proposed) {
        LoadProfile.Open load = proposed.load();
        Plan plan = proposed.study().plan();
        Map<String, Optional<Object>> loads = new LinkedHashMap<>();
        OTHERS.forEach(field -> loads.put(field, Optional.empty()));
        loads.put("model", Optional.of("open"));
        loads.put("arrivalsPerSecond", Optional.of(number(load.arrivalsPerSecond())));
        loads.put("connections", Optional.of(Integer.toString(load.connections())));
        loads.put("warmUp", Optional.of(Durations.write(load.warmUp())));
        loads.put("measured", Optional.of(Durations.write(load.measured())));
        Map<String, Optional<Object>> plans = new LinkedHashMap<>();
        plans.put("adaptive", Optional.empty());
        plans.put("rounds", Optional.of(Integer.toString(plan.rounds())));
        plans.put("pause", Optional.of(Durations.write(plan.pause())));
        plans.put("idle", Optional.of(Durations.write(plan.idle())));
        return List.of(new Edit.Put("load", loads), new Edit.Put("plan", plans));
    }

    private static String number(double value) {
        return new BigDecimal(value).round(MathContext.DECIMAL32).stripTrailingZeros().toPlainString();
    }
}
