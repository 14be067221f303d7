package kadrem.load.generator;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Secrets;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadSession;

/**
 * Holds the process of the load, or the candidate, up for 20, 100 and 400 ms in the middle of a run at 2,000 arrivals a second, in turn
 * with undisturbed runs. Usage: HeldUpBenchmark PORT [PID-OF-CANDIDATE]; the server answers GET /berths/7. Linux.
 */
final class HeldUpBenchmark {
    private static final int SECONDS = 6;
    private static final double RATE = 2_000;
    private static final Workload LOOK = new Workload(List.of(),
            List.of(new Visit("look", 1, List.of(Call.of("look", "GET", "/berths/7")))));

    private HeldUpBenchmark() {
    }

    public static void main(String[] arguments) throws Exception {
        int port = Integer.parseInt(arguments[0]);
        try (var generator = new GeneratorProcess()) {
            for (int i = 0; i < 4; i++) {
                run(generator, port, 0, 0);
            }
            for (long millis : new long[]{20, 100, 400}) {
                tell("undisturbed", run(generator, port, 0, 0));
                tell("generator held up " + millis + " ms", run(generator, port, generator.pid().getAsLong(), millis));
            }
            if (arguments.length > 1) {
                for (long millis : new long[]{20, 100, 400}) {
                    tell("candidate held up " + millis + " ms",
                            run(generator, port, Long.parseLong(arguments[1]), millis));
                }
            }
        }
    }

    private static void tell(String what, RunFigures figures) {
        System.out.printf(Locale.ROOT,
                "%-28s response p50 %.1f p95 %.1f p99 %.1f | as it was p99 %.1f | service p99 %.1f | late p50 %.1f p99 %.1f max %.1f us | p99 late %.0f %%%n",
                what, figures.response().p50() / 1e3, figures.response().p95() / 1e3, figures.response().p99() / 1e3,
                figures.raw().p99() / 1e3, figures.service().p99() / 1e3, figures.late().p50() / 1e3,
                figures.late().p99() / 1e3, figures.late().max() / 1e3,
                100 * figures.lateShare(Metric.P99).orElse(0));
    }

    private static RunFigures run(GeneratorProcess generator, int port, long pid, long millis) throws Exception {
        var totals = new RunTotals(List.of("look"), 0, SECONDS);
        var order = new LoadOrder(new Address("127.0.0.1", port, ""), LOOK,
                new LoadProfile.Open(RATE, LoadProfile.Spacing.CONSTANT, 64, Duration.ZERO,
                        Duration.ofSeconds(SECONDS), Duration.ofSeconds(10)),
                1, 1);
        try (LoadSession load = generator.prepare(order, new Secrets(Map.of(), Path.of("")), new LoadListener() {
            @Override
            public void second(SecondTally tally) {
                totals.add(tally);
            }

            @Override
            public void exchange(Exchange exchange) {
                // not looked at
            }
        })) {
            load.begin(System.nanoTime() + 50_000_000);
            if (millis > 0) {
                TimeUnit.SECONDS.sleep(SECONDS / 2);
                new ProcessBuilder("kill", "-STOP", Long.toString(pid)).start().waitFor();
                TimeUnit.MILLISECONDS.sleep(millis);
                new ProcessBuilder("kill", "-CONT", Long.toString(pid)).start().waitFor();
            }
            load.await();
            load.result();
        }
        return totals.figures();
    }
}
