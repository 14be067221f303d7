package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;

import kadrem.core.measure.Capacity;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.Standing;
import kadrem.core.plan.LoadDigest;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.scaling.Prediction;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import kadrem.core.verdict.Comparison;
import kadrem.files.run.StudyLock;
import kadrem.files.rehearsal.RehearsalFile;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Campaign;
import kadrem.load.campaign.CampaignListener;
import kadrem.load.campaign.Leftovers;
import kadrem.load.campaign.LiveMetrics;
import kadrem.load.campaign.SelfCheck;
import kadrem.load.drive.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.generator.GeneratorProcess;
import picocli.CommandLine;

/** A campaign on the command line: what must be so before it, what is told during it, and how it is stopped. */
final class Measuring {
    private final StudyFile file;
    private final Study study;
    private final RunFolders store;
    private final boolean selfCheck;
    private final PrintWriter err;
    private PrintWriter out;
    private Optional<Integer> metricsPort = Optional.empty();

    /**
     * @param study the study of {@code file}, or one made from it
     * @param selfCheck whether to find out first what load this machine can make
     */
    Measuring(CommandLine command, StudyFile file, Study study, RunFolders store, boolean selfCheck) {
        this.file = file;
        this.study = study;
        this.store = store;
        this.selfCheck = selfCheck;
        out = command.getOut();
        err = command.getErr();
    }

    /** Has progress told elsewhere than on the command's output. */
    void tell(PrintWriter other) {
        out = other;
    }

    /** Has live figures served on a port of loopback. */
    void serve(int port) {
        metricsPort = Optional.of(port);
    }

    /** Clears up what a Kadrem that was killed left behind, unless one measures now. */
    void clear() {
        if (!StudyLock.isFree(file.folder())) {
            return;
        }
        Leftovers.clear(store, Clock.systemUTC().instant()).forEach(
                run -> err.println("note: round " + run.round() + ", " + run.candidate() + ": " + run.reason()));
    }

    /**
     * Measures until rounds 1 to {@code lastRound} are whole.
     *
     * @return the exit code
     */
    int upTo(int lastRound) throws Main.BadInput {
        Main.refuseElsewhere(study);
        clear();
        int runs = Campaign.remaining(study, store.runs(), lastRound).size();
        if (runs == 0) {
            Comparison.Progress progress = Comparison.of(study, store.runs()).progress();
            out.println(
                    study.name() + ": all " + lastRound + " rounds are measured. See kadrem compare, or add some with"
                            + " --rounds N" + (progress.look().isOneOfSeveral() && !progress.isEarlyLook()
                                    ? "; the study is judged again at " + progress.look().nextWords() + "."
                                    : "."));
            return 0;
        }
        Allowed.require(file);
        Optional<Rehearsal> rehearsal = RehearsalFile.read(file.folder())
                .filter(one -> one.loadDigest().equals(LoadDigest.of(study)));
        Optional<String> objection = rehearsal.flatMap(one -> one.objection(study.agreement()));
        if (objection.isPresent()) {
            throw new Main.BadInput("Nothing was measured: " + objection.get() + ".");
        }
        if (rehearsal.isEmpty()) {
            err.println(
                    "note: this workload was not rehearsed; kadrem rehearse shows whether all candidates answer alike");
        }
        Prediction.of(study, rehearsal).weakPercentiles(study).forEach(warning -> err.println("note: " + warning));
        out.println(study.name() + ": " + runs + (runs == 1 ? " run" : " runs") + " to make");
        var told = new Told(study, out);
        if (metricsPort.isEmpty()) {
            return run(told, rehearsal, lastRound);
        }
        try (var metrics = new LiveMetrics(told)) {
            out.println("Live figures: " + metrics.serve(metricsPort.get()));
            return run(metrics, rehearsal, lastRound);
        } catch (IOException cause) {
            throw new Main.BadInput(
                    "Port " + metricsPort.get() + " cannot be served on 127.0.0.1 (" + cause.getMessage()
                            + "). Name another with --metrics-port; nothing was measured.");
        }
    }

    private int run(CampaignListener listener, Optional<Rehearsal> rehearsal, int lastRound) throws Main.BadInput {
        try (StudyLock _ = lock(); var generator = new GeneratorProcess()) {
            var campaign = new Campaign(study, file.folder(), program(), generator, store, Clock.systemUTC(), listener);
            if (selfCheck) {
                checkMachine(generator, rehearsal).ifPresent(campaign::keep);
            }
            // without it the first run meets code that is not compiled, and its round is set aside
            out.println("Making the generator's own code quick …");
            campaign.warmUp(rehearsal);
            return run(campaign, lastRound);
        }
    }

    private StudyLock lock() throws Main.BadInput {
        try {
            return StudyLock.take(file.folder());
        } catch (IOException cause) {
            throw new Main.BadInput(cause.getMessage() + " Nothing was measured.");
        }
    }

    /** The program that {@code {{kadrem}}} stands for in launch commands. */
    static String program() {
        return System.getProperty("kadrem.program", "kadrem");
    }

    private Optional<Capacity> checkMachine(LoadMaker maker, Optional<Rehearsal> rehearsal) throws Main.BadInput {
        try {
            Optional<Capacity> found = SelfCheck.of(maker, study, file.folder(), rehearsal);
            found.ifPresent(capacity -> {
                out.println(capacity.sentence());
                capacity.objection(Prediction.of(study, rehearsal).mostCallsPerSecond().orElse(0),
                        study.candidates().stream().anyMatch(one -> one.address().isLoopback()))
                        .ifPresent(sentence -> err.println("note: " + sentence));
            });
            return found;
        } catch (UnusableCall cause) {
            throw new Main.BadInput(String.valueOf(cause.getMessage()));
        }
    }

    private int run(Campaign campaign, int lastRound) {
        var done = new CountDownLatch(1);
        var atExit = new Thread(() -> {
            campaign.stop();
            try {
                done.await(60, TimeUnit.SECONDS);
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
        });
        Runtime.getRuntime().addShutdownHook(atExit);
        try {
            List<RunRecord> made = campaign.run(lastRound);
            if (campaign.isSettled()) {
                out.println("Every deciding pair is settled, so that no further round is needed.");
            }
            campaign.gaveUp().ifPresent(why -> err.println(
                    "Measuring was ended, since every run failed for the same reason and so would the others: " + why));
            if (made.stream().anyMatch(run -> run.outcome() == RunOutcome.STOPPED)) {
                return Main.STOPPED;
            }
            return made.stream().anyMatch(run -> run.outcome() == RunOutcome.FAILED) ? Main.RUN_FAILED : 0;
        } finally {
            done.countDown();
            try {
                Runtime.getRuntime().removeShutdownHook(atExit);
            } catch (IllegalStateException _) {
                // the process is ending already
            }
        }
    }

    /** Prints a line at the end of each run, and on a terminal the second under way. */
    private static final class Told implements CampaignListener {
        private final Study study;
        private final PrintWriter out;
        private final boolean terminal = System.console() != null && System.console().isTerminal();
        /** Beginnings of lines by run, since several may be under way. */
        private final Map<String, String> heads = new ConcurrentHashMap<>();

        Told(Study study, PrintWriter out) {
            this.study = study;
            this.out = out;
        }

        private String name(RunRecord run) {
            return study.candidate(run.candidate()).orElseThrow().name();
        }

        @Override
        public void runBegins(RunRecord run, int number, int of, Duration left) {
            heads.put(run.id(), String.format(Locale.ROOT, "%d/%d  round %d  %s", number, of, run.round(), name(run)));
            if (number == 1) {
                out.println((study.load().course().search().isPresent() ? "at most " : "about ") + Texts.time(left)
                        + " left");
            }
        }

        @Override
        public void step(RunRecord run, String step) {
            live(run, step);
        }

        @Override
        public void second(RunRecord run, SecondSummary second) {
            String part = study.load().course().search().isPresent()
                    ? "second " + (second.second() + 1)
                    : (second.second() < study.load().warmUp().toSeconds() ? "warm-up " : "measured ")
                            + (second.second() + 1) + " of " + study.load().total().toSeconds() + " s";
            live(run, part + ", p99 " + Written.duration(second.p99()));
        }

        private void live(RunRecord run, String what) {
            if (terminal) {
                Terminal.again(out);
                out.print(heads.get(run.id()) + "  " + what);
                out.flush();
            }
        }

        @Override
        public void runEnds(RunRecord run, int number, int of, Duration left) {
            if (terminal) {
                Terminal.again(out);
            }
            out.println(heads.get(run.id()) + "  " + summary(run)
                    + (number < of ? "  about " + Texts.time(left) + " left" : ""));
            if (!run.levels().isEmpty()) {
                out.print(levels(run).indent(6));
            }
            run.lastOutput().forEach(line -> out.println("      " + line));
        }

        private static String levels(RunRecord run) {
            var rows = new ArrayList<List<String>>();
            rows.add(List.of("level", "throughput", "p50", "p99", "failed", "what it showed"));
            for (LevelResult level : run.levels()) {
                Optional<RunFigures> figures = level.figures();
                rows.add(List.of(Written.significant(level.level()),
                        figures.map(one -> Written.significant(one.throughput()) + "/s").orElse("-"),
                        figures.map(one -> Written.duration(one.response().p50())).orElse("-"),
                        figures.map(one -> Written.duration(one.response().p99())).orElse("-"),
                        figures.map(one -> Written.significant(one.errorShare() * 100) + " %").orElse("-"),
                        level.verdict()));
            }
            return Texts.table(rows, List.of(true, true, true, true, true, false));
        }

        private static String summary(RunRecord run) {
            String told = switch (run.standing()) {
                case Standing.OfCandidate own -> own.words() + " (it counts as worse than any figure)";
                case Standing.NotMade(String words) -> words;
                case Standing.Disturbed disturbed ->
                    figures(run) + "  DISTURBED, so that the round is set aside: " + disturbed.words();
                case Standing.Counted _ -> figures(run);
            };
            return told + run.soundness().stream().filter(finding -> !finding.ok() && !finding.disturbs())
                    .map(finding -> "; " + finding.sentence()).collect(Collectors.joining());
        }

        private static String figures(RunRecord run) {
            RunFigures figures = run.figures().orElseThrow();
            return "p50 " + Written.duration(figures.response().p50()) + "  p99 "
                    + Written.duration(figures.response().p99()) + "  " + Written.significant(figures.throughput())
                    + "/s  errors " + Written.significant(figures.errorShare() * 100) + " %";
        }
    }
}
