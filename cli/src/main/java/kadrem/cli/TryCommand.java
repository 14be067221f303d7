package kadrem.cli;

import java.io.PrintWriter;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.concurrent.Callable;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.GeneratorFigures;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.Soundness;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Pacing;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.core.study.Written;
import kadrem.files.run.TrialJson;
import kadrem.load.gate.Consent;
import kadrem.load.campaign.EngineWarmUp;
import kadrem.load.campaign.MeasuredRun;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.generator.GeneratorProcess;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.ITypeConverter;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import picocli.CommandLine.TypeConversionException;

/** {@code kadrem try URL}: load on one address, without a study. */
@Command(name = "try", mixinStandardHelpOptions = true, sortOptions = false, description = "Puts load on one address and prints what it felt like, without a study.")
final class TryCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "URL", description = "for example http://127.0.0.1:8080/berths/7")
    private String url;
    @ArgGroup
    private Model model;
    @Option(names = "--for", paramLabel = "TIME", defaultValue = "10s", converter = TimeConverter.class, description = "length of the measured part in whole seconds (default ${DEFAULT-VALUE})")
    private Duration measured;
    @Option(names = "--warm-up", paramLabel = "TIME", defaultValue = "2s", converter = TimeConverter.class, description = "sent before it and not counted (default ${DEFAULT-VALUE})")
    private Duration warmUp;
    @Option(names = "--think-time", paramLabel = "TIME", defaultValue = "0s", converter = TimeConverter.class, description = "pause of a user between two calls (default ${DEFAULT-VALUE})")
    private Duration thinkTime;
    @Option(names = "--spacing", paramLabel = "constant|poisson", defaultValue = "constant", converter = SpacingConverter.class, description = "how arrivals follow each other (default ${DEFAULT-VALUE})")
    private LoadProfile.Spacing spacing;
    @Option(names = "--connections", paramLabel = "N", defaultValue = "64", description = "connections for arrivals (default ${DEFAULT-VALUE})")
    private int connections;
    @Option(names = "--connection-limit", paramLabel = "N", defaultValue = "0", description = "connections at most: while there are fewer, an arrival that finds all held opens another (default "
            + LoadProfile.Open.USUAL_LIMIT + ")")
    private int connectionLimit;
    @Option(names = "--pacing", paramLabel = "always|exact|thrifty", converter = PacingConverter.class, description = "how the generator waits; what fits this host if left out")
    private Optional<Pacing> pacing;
    @Option(names = "--timeout", paramLabel = "TIME", defaultValue = "5s", converter = TimeConverter.class, description = "after which a call is given up (default ${DEFAULT-VALUE})")
    private Duration timeout;
    @Option(names = "--method", paramLabel = "METHOD", defaultValue = "GET", description = "HTTP method (default ${DEFAULT-VALUE})")
    private String method;
    @Option(names = "--body", paramLabel = "TEXT", defaultValue = "", description = "body of the request")
    private String body;
    @Option(names = "--no-verify", description = "of an https address, do not look at the certificate")
    private boolean insecure;
    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "how to print")
    private Main.Format format;

    /** Users or arrivals, not both. */
    static final class Model {
        @Option(names = "--users", paramLabel = "N", description = "closed model: users who wait for each answer")
        private int users;
        @Option(names = "--arrivals", paramLabel = "RATE", description = "open model: arrivals a second")
        private double arrivals;
    }

    /** Times as in a study file. */
    static final class TimeConverter implements ITypeConverter<Duration> {
        @Override
        public Duration convert(String text) {
            return kadrem.core.study.grammar.Durations.parse(text)
                    .orElseThrow(
                            () -> new TypeConversionException("\"" + text + "\" is not a time; write 10s or 250ms"));
        }
    }

    /** The words of a study file. */
    static final class SpacingConverter implements ITypeConverter<LoadProfile.Spacing> {
        @Override
        public LoadProfile.Spacing convert(String text) {
            return LoadProfile.Spacing.byId(text)
                    .orElseThrow(() -> new TypeConversionException("\"" + text + "\" is neither constant nor poisson"));
        }
    }

    /** The words of a study file. */
    static final class PacingConverter implements ITypeConverter<Pacing> {
        @Override
        public Pacing convert(String text) {
            return Pacing.byId(text)
                    .orElseThrow(() -> new TypeConversionException("\"" + text + "\" is none of " + Pacing.ids()));
        }
    }

    TryCommand() {
        spec = CommandSpec.create();
        url = "";
        model = new Model();
        measured = Duration.ZERO;
        warmUp = Duration.ZERO;
        thinkTime = Duration.ZERO;
        timeout = Duration.ZERO;
        spacing = LoadProfile.Spacing.CONSTANT;
        pacing = Optional.empty();
        method = "";
        body = "";
        format = Main.Format.text;
    }

    @Override
    public Integer call() throws Main.BadInput {
        URI uri = uri();
        boolean secure = "https".equals(uri.getScheme());
        var address = new Address(uri.getHost().replaceAll("[\\[\\]]", ""),
                uri.getPort() < 0 ? Address.usualPort(secure) : uri.getPort(), "", secure);
        if (!Consent.ofUser().allows(address)) {
            throw new Main.BadInput(Consent.objection(address));
        }
        String path = (uri.getRawPath() == null || uri.getRawPath().isEmpty() ? "/" : uri.getRawPath())
                + (uri.getRawQuery() == null ? "" : "?" + uri.getRawQuery());
        var call = Call.of("call", method.toUpperCase(java.util.Locale.ROOT), path).withBody(body);
        var workload = new Workload(List.of(), List.of(new Visit("visit", 1, List.of(call))));
        LoadProfile load = load();
        var access = new Access(new SignIn.None(),
                new Tls(!insecure, Optional.empty(), Optional.empty(), Optional.empty()));
        var order = new LoadOrder(address, access, workload, load, 1, LoadOrder.defaultLanes()).paced(pacing);
        PrintWriter err = spec.commandLine().getErr();
        boolean watched = format == Main.Format.text && System.console() != null && System.console().isTerminal();
        var telling = new MeasuredRun.Telling(RunJournal.NOT_KEPT, second -> {
            if (watched) {
                Terminal.again(err);
                err.print(progress(second, load));
                err.flush();
            }
        }, Map.of(), Set.of(Metric.P50, Metric.P99), 0);
        Secrets secrets = Secrets.ofProcess(Path.of(""));
        try (var generator = new GeneratorProcess(); MeasuredRun run = prepare(generator, order, telling, secrets)) {
            var atExit = new Thread(run::stop);
            Runtime.getRuntime().addShutdownHook(atExit);
            MeasuredRun.Result result = run.run();
            if (!result.load().stopped()) {
                Runtime.getRuntime().removeShutdownHook(atExit);
            }
            print(result, load);
            return result.load().stopped() ? Main.STOPPED : 0;
        } catch (UnusableCall cause) {
            throw new Main.BadInput(String.valueOf(cause.getMessage()));
        }
    }

    private static MeasuredRun prepare(LoadMaker maker, LoadOrder order, MeasuredRun.Telling telling, Secrets secrets)
            throws UnusableCall {
        EngineWarmUp.of(maker, order, secrets, List.of());
        return MeasuredRun.prepare(maker, order, OptionalLong.empty(), () -> true, telling, secrets);
    }

    private URI uri() throws Main.BadInput {
        try {
            URI uri = new URI(url);
            if (("http".equals(uri.getScheme()) || "https".equals(uri.getScheme())) && uri.getHost() != null) {
                return uri;
            }
        } catch (java.net.URISyntaxException _) {
            // told below
        }
        throw new Main.BadInput("\"" + url + "\" is not an address that can be tried. Write it like this:"
                + " http://127.0.0.1:8080/berths/7");
    }

    private LoadProfile load() throws Main.BadInput {
        whole("--for", measured, 1);
        whole("--warm-up", warmUp, 0);
        if (timeout.isZero()) {
            throw new Main.BadInput("--timeout is 0. Give a time such as 5s.");
        }
        if (model.arrivals > 0) {
            between("--arrivals", model.arrivals, 0, 1_000_000);
            between("--connections", connections, 1, 20_000);
            int limit = connectionLimit == 0 ? Math.max(connections, LoadProfile.Open.USUAL_LIMIT) : connectionLimit;
            between("--connection-limit", limit, connections, 20_000);
            return new LoadProfile.Open(model.arrivals, spacing, connections, warmUp, measured, timeout)
                    .withConnectionLimit(limit);
        }
        if (model.users < 0 || model.arrivals < 0) {
            throw new Main.BadInput("--users and --arrivals must be above 0.");
        }
        int users = model.users == 0 ? 8 : model.users;
        between("--users", users, 1, 20_000);
        return new LoadProfile.Closed(users, thinkTime, warmUp, measured, timeout);
    }

    private static void whole(String option, Duration time, int least) throws Main.BadInput {
        if (time.toNanosPart() != 0 || time.toSeconds() < least || time.toHours() > 24) {
            throw new Main.BadInput(option + " must be whole seconds, at least " + least + "s and at most 24h.");
        }
    }

    private static void between(String option, double value, double least, double most) throws Main.BadInput {
        if (!(value >= least && value <= most)) {
            throw new Main.BadInput(option + " must be between " + Written.significant(least) + " and "
                    + Written.significant(most) + ".");
        }
    }

    private static String progress(SecondSummary second, LoadProfile load) {
        long total = load.total().toSeconds();
        return String.format(java.util.Locale.ROOT, "%3d of %d s   %s/s   p50 %s   p99 %s   failed %d      ",
                second.second() + 1, total, Written.significant(second.good()), Written.duration(second.p50()),
                Written.duration(second.p99()), second.failedTotal());
    }

    private void print(MeasuredRun.Result result, LoadProfile load) {
        PrintWriter out = spec.commandLine().getOut();
        if (format == Main.Format.json) {
            out.println(TrialJson.write(url, load, result.figures(), result.soundness(), result.generator()));
        } else {
            if (System.console() != null && System.console().isTerminal()) {
                Terminal.again(spec.commandLine().getErr());
            }
            out.print(text(result, load));
        }
        out.flush();
    }

    private String text(MeasuredRun.Result result, LoadProfile load) {
        RunFigures figures = result.figures();
        var text = new StringBuilder();
        text.append(url).append(": ").append(switch (load) {
            case LoadProfile.Closed closed -> closed.users() + " users";
            case LoadProfile.Open open -> Written.significant(open.arrivalsPerSecond()) + " arrivals/s";
        }).append(" for ").append(Texts.time(load.measured())).append(" after ").append(Texts.time(load.warmUp()))
                .append(" of warm-up\n\n");
        text.append(String.format(java.util.Locale.ROOT, "  %,d sent, %,d good, %,d failed   throughput %s/s%n",
                figures.sent(), figures.good(), figures.failedTotal(), Written.significant(figures.throughput())));
        for (FailureKind kind : FailureKind.values()) {
            long count = figures.failed().getOrDefault(kind, 0L);
            if (count > 0) {
                text.append(String.format(java.util.Locale.ROOT, "  failed, %s: %,d%n", kind.id(), count));
            }
        }
        var rows = new ArrayList<List<String>>();
        rows.add(List.of("", "mean", "p50", "p90", "p95", "p99", "p99.9", "max"));
        rows.add(row("response time", figures.response()));
        rows.add(row("  as it was", figures.raw()));
        rows.add(row("service time", figures.service()));
        rows.add(row("late, the generator's", figures.late()));
        text.append('\n').append(Texts.table(rows, List.of(false, true, true, true, true, true, true, true))
                .indent(2));
        text.append('\n').append(generator(result.generator()).indent(2));
        List<Soundness.Finding> broken = result.soundness().stream().filter(finding -> !finding.ok()).toList();
        text.append('\n').append(broken.isEmpty() ? "  sound\n" : "  not sound:\n");
        broken.forEach(finding -> text.append("    ").append(finding.sentence()).append('\n'));
        return text.toString();
    }

    /** How the load was made, and what held it up. */
    private static String generator(GeneratorFigures own) {
        var text = new StringBuilder(own.lanes() == 1 ? "1 lane" : own.lanes() + " lanes").append(", ")
                .append(own.pacing());
        own.workShare().ifPresent(share -> text.append(String.format(java.util.Locale.ROOT,
                "; sending and reading %.0f %% of the time", share * 100 / own.lanes())));
        own.longTurns().forEach(turns -> text.append(String.format(java.util.Locale.ROOT,
                "%nheld up %,d times by %s, %s in all, %s at most", turns.count(), turns.cause().words(),
                Written.duration(turns.totalNanos()), Written.duration(turns.longestNanos()))));
        return text.toString();
    }

    private static List<String> row(String name, LatencySummary latency) {
        if (latency.count() == 0) {
            return List.of(name, "-", "-", "-", "-", "-", "-", "-");
        }
        return List.of(name, Written.duration(latency.mean()), Written.duration(latency.p50()),
                Written.duration(latency.p90()), Written.duration(latency.p95()), Written.duration(latency.p99()),
                Written.duration(latency.p999()), Written.duration(latency.max()));
    }
}
