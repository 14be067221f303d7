package kadrem.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.Soundness;
import kadrem.core.plan.LoadDigest;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Study;
import kadrem.core.verdict.Wording;
import kadrem.files.rehearsal.RehearsalFile;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Campaign;
import kadrem.load.campaign.CampaignListener;
import kadrem.load.campaign.Leftovers;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem measure STUDY}. */
@Command(name = "measure", mixinStandardHelpOptions = true, description = "Measures what of the study's plan is not measured yet. Stop with Ctrl-C; what was measured stays,"
        + " and the next call goes on from there.")
final class MeasureCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--rounds", paramLabel = "N", description = "measure N rounds now: those not whole yet first, then further ones")
    private Optional<Integer> rounds;

    MeasureCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        rounds = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput {
        PrintWriter out = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> err.println("note: " + warning));
        Study study = file.study();
        var store = new RunFolders(file.folder());
        store.find().unreadable().forEach(sentence -> err.println("note: " + sentence));
        Optional<Long> other = Leftovers.measuredBy(store);
        if (other.isPresent()) {
            throw new Main.BadInput("This study is being measured by another Kadrem (process " + other.get()
                    + "). Wait for it, or stop it.");
        }
        Leftovers.clear(store, Clock.systemUTC().instant())
                .forEach(run -> err
                        .println("note: round " + run.round() + ", " + run.candidate() + ": " + run.reason()));
        if (rounds.isPresent() && rounds.get() < 1) {
            throw new Main.BadInput("--rounds must be at least 1.");
        }
        int lastRound = rounds.map(more -> Campaign.firstOpenRound(study, store.runs()) + more - 1)
                .orElse(study.plan().rounds());
        int runs = Campaign.remaining(study, store.runs(), lastRound).size();
        if (runs == 0) {
            out.println(study.name() + ": all " + lastRound + " rounds are measured. Add some with --rounds N, or see"
                    + " kadrem compare.");
            return 0;
        }
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
        out.println(study.name() + ": " + runs + (runs == 1 ? " run" : " runs") + " to make");
        var campaign = new Campaign(study, file.folder(), program(), store, Clock.systemUTC(), new Told(study, out));
        return measure(campaign, lastRound);
    }

    /** The program that {@code {{kadrem}}} stands for in launch commands. */
    static String program() {
        return System.getProperty("kadrem.program", "kadrem");
    }

    private static Integer measure(Campaign campaign, int lastRound) {
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
        private volatile String head = "";

        Told(Study study, PrintWriter out) {
            this.study = study;
            this.out = out;
        }

        private String name(RunRecord run) {
            return study.candidate(run.candidate()).orElseThrow().name();
        }

        @Override
        public void runBegins(RunRecord run, int number, int of, Duration left) {
            head = String.format(Locale.ROOT, "%d/%d  round %d  %s", number, of, run.round(), name(run));
            if (number == 1) {
                out.println("about " + Texts.time(left) + " left");
            }
        }

        @Override
        public void step(RunRecord run, String step) {
            live(step);
        }

        @Override
        public void second(RunRecord run, SecondSummary second) {
            long warmUp = study.load().warmUp().toSeconds();
            live((second.second() < warmUp ? "warm-up " : "measured ") + (second.second() + 1) + " of "
                    + (warmUp + study.load().measured().toSeconds()) + " s, p99 " + Wording.duration(second.p99()));
        }

        private void live(String what) {
            if (terminal) {
                out.print("\r\033[2K" + head + "  " + what);
                out.flush();
            }
        }

        @Override
        public void runEnds(RunRecord run, int number, int of, Duration left) {
            if (terminal) {
                out.print("\r\033[2K");
            }
            out.println(head + "  " + summary(run) + (number < of ? "  about " + Texts.time(left) + " left" : ""));
            run.lastOutput().forEach(line -> out.println("      " + line));
        }

        private static String summary(RunRecord run) {
            if (run.outcome() != RunOutcome.COMPLETE || run.figures().isEmpty()) {
                return run.outcome().id() + ": " + run.reason();
            }
            RunFigures figures = run.figures().get();
            String broken = run.soundness().stream().filter(finding -> !finding.ok()).map(Soundness.Finding::sentence)
                    .reduce((a, b) -> a + "; " + b).map(reasons -> "  UNSOUND: " + reasons).orElse("");
            return "p50 " + Wording.duration(figures.response().p50()) + "  p99 "
                    + Wording.duration(figures.response().p99()) + "  " + Wording.significant(figures.throughput())
                    + "/s  errors " + Wording.significant(figures.errorShare() * 100) + " %" + broken;
        }
    }
}
