package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
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
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.Standing;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Written;
import kadrem.core.verdict.Comparison;
import kadrem.load.campaign.Step;
import kadrem.work.Ended;
import kadrem.work.Measurement;
import kadrem.work.Measurement.SelfChecking;
import kadrem.work.MeasurementListener;
import kadrem.work.NotDone;
import kadrem.work.Order;
import kadrem.work.Target;
import org.jspecify.annotations.Nullable;

/** A measurement on the command line: what is told during it, and how it is stopped. */
final class Measuring {
    private final PrintWriter out;
    private final PrintWriter err;
    private final SelfChecking selfChecking;
    private Optional<Integer> metricsPort = Optional.empty();

    /** @param out where progress is told */
    Measuring(PrintWriter out, PrintWriter err, SelfCheckOption selfCheck) {
        this.out = out;
        this.err = err;
        selfChecking = selfCheck.wanted();
    }

    /** Has live figures served on a port of loopback. */
    void serve(int port) {
        metricsPort = Optional.of(port);
    }

    /** Measures to the end, or until the process is told to end. */
    Ended run(Order order) throws Main.BadInput, IOException {
        var told = new Told();
        try (var measurement = new Measurement(order, selfChecking, told)) {
            if (metricsPort.isPresent()) {
                serve(measurement, metricsPort.get());
            }
            Ended ended = run(measurement);
            if (ended.stopped() || !ended.made().isEmpty()) {
                out.println(ended.words());
            }
            return ended;
        } catch (NotDone not) {
            throw Main.BadInput.of("Nothing was measured", not.objection());
        }
    }

    private void serve(Measurement measurement, int port) throws Main.BadInput {
        try {
            out.println("Live figures: " + measurement.serve(port));
        } catch (IOException cause) {
            throw new Main.BadInput("Port " + port + " cannot be served on 127.0.0.1 (" + cause.getMessage()
                    + "). Name another with --metrics-port; nothing was measured.");
        }
    }

    private static Ended run(Measurement measurement) throws NotDone, IOException, Main.BadInput {
        var done = new CountDownLatch(1);
        var atExit = new Thread(() -> {
            measurement.stop();
            try {
                done.await(60, TimeUnit.SECONDS);
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
        });
        Runtime.getRuntime().addShutdownHook(atExit);
        try {
            return measurement.run();
        } catch (InterruptedException _) {
            throw new Main.BadInput("Stopped before the first run.");
        } finally {
            done.countDown();
            try {
                Runtime.getRuntime().removeShutdownHook(atExit);
            } catch (IllegalStateException _) {
                // the process is ending already
            }
        }
    }

    /** The exit code of what came of it. */
    static int exitCode(Ended ended) {
        return ended.stopped() && ended.gaveUp().isEmpty()
                ? Main.STOPPED
                : ended.hasFailures() ? Main.RUN_FAILED : 0;
    }

    /** Prints a line at the end of each run, and on a terminal the second under way. */
    private final class Told implements MeasurementListener {
        private final boolean terminal = Terminal.watched().isPresent();
        /** Beginnings of lines by run, since several may be under way. */
        private final Map<String, String> heads = new ConcurrentHashMap<>();
        private @Nullable MeasuredStudy study;

        private MeasuredStudy study() {
            MeasuredStudy measured = study;
            if (measured == null) {
                throw new IllegalStateException("no run is made before the measurement begins");
            }
            return measured;
        }

        private String name(RunRecord run) {
            return study().candidate(run.candidate()).orElseThrow().name();
        }

        @Override
        public void note(String clause) {
            err.println("note: " + clause);
        }

        @Override
        public void prepares(String what) {
            out.println(what.substring(0, 1).toUpperCase(Locale.ROOT) + what.substring(1) + " …");
        }

        @Override
        public void begins(Target target, int runs) {
            study = target.study();
            if (runs > 0) {
                out.println(study().name() + ": " + runs + (runs == 1 ? " run" : " runs") + " to make");
                return;
            }
            Comparison.Progress progress = Comparison.of(target.study(), target.store().runs()).progress();
            out.println(study().name() + ": all " + target.wanted() + " rounds are measured. See kadrem compare, or add"
                    + " some with --rounds N" + (progress.look().isOneOfSeveral() && !progress.isEarlyLook()
                            ? "; the study is judged again at " + progress.look().nextWords() + "."
                            : "."));
        }

        @Override
        public void machine(Capacity found, List<String> objections) {
            out.println(found.sentence());
            objections.forEach(this::note);
        }

        @Override
        public void runBegins(RunRecord run, int number, int of, Duration left) {
            heads.put(run.id(), String.format(Locale.ROOT, "%d/%d  round %d  %s", number, of, run.round(), name(run)));
            if (number == 1) {
                out.println((study().load().course().search().isPresent() ? "at most " : "about ") + Written.time(left)
                        + " left");
            }
        }

        @Override
        public void step(RunRecord run, Step step) {
            live(run, step.words());
        }

        @Override
        public void second(RunRecord run, SecondSummary second) {
            String part = study().load().course().search().isPresent()
                    ? "second " + (second.second() + 1)
                    : (second.second() < study().load().warmUp().toSeconds() ? "warm-up " : "measured ")
                            + (second.second() + 1) + " of " + study().load().total().toSeconds() + " s";
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
                    + (number < of ? "  about " + Written.time(left) + " left" : ""));
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
                    + "/s  errors " + Written.significant(figures.errorShare() * 100) + " %"
                    + (figures.crowds().isEmpty() ? "" : "  (" + figures.crowdsInWords() + ")");
        }
    }
}
