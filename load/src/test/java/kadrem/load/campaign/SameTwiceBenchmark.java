package kadrem.load.campaign;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Outcome;
import kadrem.core.verdict.PairComparison;
import kadrem.load.drive.Ports;
import kadrem.load.engine.LoadMaker;
import kadrem.load.generator.GeneratorProcess;
import org.mockito.Mockito;

/**
 * Many short studies of a service whose work is known, under two names: the same work twice, or some per cent more. Usage:
 * {@code SameTwiceBenchmark STUDIES ROUNDS MORE-PERCENT}. Linux.
 */
final class SameTwiceBenchmark {
    private static final int WORK = 20_000;

    private SameTwiceBenchmark() {
    }

    public static void main(String[] arguments) throws Exception {
        int studies = Integer.parseInt(arguments[0]);
        int rounds = Integer.parseInt(arguments[1]);
        int more = Integer.parseInt(arguments[2]);
        int port = Ports.free();
        Process service = new ProcessBuilder(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-cp",
                System.getProperty("java.class.path"), "kadrem.standins.Main", "known", "--port",
                Integer.toString(port))
                .redirectOutput(ProcessBuilder.Redirect.DISCARD).redirectError(ProcessBuilder.Redirect.DISCARD).start();
        Map<Outcome, Integer> outcomes = new TreeMap<>();
        int aside = 0;
        long[] before = processors();
        try (var maker = new GeneratorProcess()) {
            Ports.await(port);
            // the service's own compiler
            study(maker, port, 4, 0, 1);
            for (int i = 0; i < studies; i++) {
                Comparison comparison = study(maker, port, rounds, more, i);
                PairComparison pair = comparison.on(Metric.P50).getFirst();
                outcomes.merge(pair.outcome(), 1, Integer::sum);
                aside += comparison.setAside().rounds().size();
                System.out.printf(Locale.ROOT, "%d: %.3f %s, %s, %d rounds set aside%n", i + 1, pair.estimate(),
                        pair.interval().map(one -> String.format(Locale.ROOT, "[%.3f, %.3f]", one.low(), one.high()))
                                .orElse("no interval"),
                        pair.outcome().words(), comparison.setAside().rounds().size());
            }
        } finally {
            service.destroy();
        }
        long[] after = processors();
        System.out.printf(Locale.ROOT, "%s; %d rounds set aside; the machine below took %.1f %%%n", outcomes, aside,
                100.0 * (after[0] - before[0]) / (after[1] - before[1]));
    }

    /** Time taken by the machine below, and all time, of all processors. */
    private static long[] processors() throws Exception {
        long[] fields = Arrays.stream(Files.readAllLines(Path.of("/proc/stat")).getFirst().split("\\s+")).skip(1)
                .mapToLong(Long::parseLong).toArray();
        return new long[]{fields[7], Arrays.stream(fields).limit(8).sum()};
    }

    private static Candidate candidate(String id, int port, int work) {
        return new Candidate(id, id, new Address("127.0.0.1", port, "/" + work), Optional.empty(), "/health",
                Optional.empty(), Optional.empty());
    }

    private static Comparison study(LoadMaker maker, int port, int rounds, int more, int seed) throws Exception {
        var load = new LoadProfile.Open(50, LoadProfile.Spacing.CONSTANT, 16, Duration.ZERO, Duration.ofSeconds(1),
                Duration.ofSeconds(5));
        var study = new Study("s", new Question("?", "a", 0.05, List.of(new Question.Decider(Metric.P50, 0.05))),
                List.of(candidate("a", port, WORK), candidate("b", port, WORK + WORK * more / 100)),
                new Workload(List.of(), List.of(new Visit("v", 1, List.of(Call.of("look", "GET", "/look"))))), load,
                new Plan(rounds, seed, Duration.ZERO));
        var store = new MemoryStore();
        List<RunRecord> made = new Campaign(study, Path.of("."), "kadrem", maker, store, Clock.systemUTC(),
                Mockito.mock(CampaignListener.class)).run(rounds);
        return Comparison.of(study, made);
    }
}
