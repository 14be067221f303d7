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
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Tls;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.core.study.Written;
import kadrem.files.run.TrialJson;
import kadrem.load.gate.Consent;
import kadrem.load.campaign.EngineWarmUp;
import kadrem.load.campaign.MeasuredRun;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.generator.GeneratorProcess;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem try URL}: load on one address, without a study. */
@Command(name = "try", resourceBundle = "kadrem.cli.FieldWords", mixinStandardHelpOptions = true, sortOptions = false, description = "Puts load on one address and prints what it felt like, without a study.")
final class TryCommand implements Callable<Integer> {
    private static final int USUAL_USERS = 8;

    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "URL", description = "for example http://127.0.0.1:8080/berths/7")
    private String url;
    @ArgGroup
    private Model model;
    @Option(names = "--for", paramLabel = "TIME", defaultValue = "10s", converter = FieldOption.Measured.class, description = "${bundle:load.measured} (default ${DEFAULT-VALUE})")
    private Duration measured;
    @Option(names = "--warm-up", paramLabel = "TIME", defaultValue = "2s", converter = FieldOption.WarmUp.class, description = "${bundle:load.warmUp} (default ${DEFAULT-VALUE})")
    private Duration warmUp;
    @Option(names = "--think-time", paramLabel = "TIME", defaultValue = "none", converter = FieldOption.Pause.class, description = "${bundle:load.thinkTime} (default ${DEFAULT-VALUE})")
    private ThinkTime thinkTime;
    @Option(names = "--spacing", paramLabel = "constant|poisson", defaultValue = "constant", converter = FieldOption.Spacing.class, description = "${bundle:load.spacing} (default ${DEFAULT-VALUE})")
    private LoadProfile.Spacing spacing;
    @Option(names = "--connections", paramLabel = "N", defaultValue = "64", converter = FieldOption.Connections.class, description = "${bundle:load.connections} (default ${DEFAULT-VALUE})")
    private int connections;
    @Option(names = "--connection-limit", paramLabel = "N", converter = FieldOption.Connections.class, description = "${bundle:load.connectionLimit}")
    private Optional<Integer> connectionLimit;
    @Option(names = "--pacing", paramLabel = "always|exact|thrifty", converter = FieldOption.Waiting.class, description = "${bundle:plan.pacing}")
    private Optional<Pacing> pacing;
    @Option(names = "--timeout", paramLabel = "TIME", defaultValue = "5s", converter = FieldOption.Timeout.class, description = "${bundle:load.timeout} (default ${DEFAULT-VALUE})")
    private Duration timeout;
    @Option(names = "--method", paramLabel = "METHOD", defaultValue = "GET", converter = FieldOption.Method.class, description = "${bundle:workload.visits.calls.method} (default ${DEFAULT-VALUE})")
    private String method;
    @Option(names = "--body", paramLabel = "TEXT", defaultValue = "", description = "body of the request")
    private String body;
    @Option(names = "--no-verify", description = "of an https address, do not look at the certificate")
    private boolean insecure;
    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "how to print")
    private Main.Format format;

    /** Users or arrivals, not both. */
    static final class Model {
        @Option(names = "--users", paramLabel = "N", converter = FieldOption.Users.class, description = "${bundle:load.users}, who wait for each answer (8 if neither is given)")
        private Optional<Integer> users = Optional.empty();
        @Option(names = "--arrivals", paramLabel = "RATE", converter = FieldOption.Arrivals.class, description = "${bundle:load.arrivalsPerSecond}")
        private Optional<Double> arrivals = Optional.empty();
    }

    TryCommand() {
        spec = CommandSpec.create();
        url = "";
        model = new Model();
        measured = Duration.ZERO;
        warmUp = Duration.ZERO;
        thinkTime = ThinkTime.NONE;
        connectionLimit = Optional.empty();
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
        var call = Call.of("call", method, path).withBody(body);
        var workload = new Workload(List.of(), List.of(new Visit("visit", 1, List.of(call))));
        LoadProfile.Single load = load();
        var access = new Access(new SignIn.None(),
                new Tls(!insecure, Optional.empty(), Optional.empty(), Optional.empty()));
        var order = new LoadOrder(address, access, workload, load, 1, LoadOrder.defaultLanes()).paced(pacing);
        PrintWriter err = spec.commandLine().getErr();
        boolean watched = format == Main.Format.text && Terminal.watched().isPresent();
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
        EngineWarmUp.of(maker, order, secrets, List.of(), true);
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

    private LoadProfile.Single load() throws Main.BadInput {
        if (model.arrivals.isPresent()) {
            int limit = connectionLimit.orElse(Math.max(connections, LoadProfile.Open.USUAL_LIMIT));
            if (limit < connections) {
                throw new Main.BadInput("--connection-limit is " + limit + ", less than the " + connections
                        + " connections that are opened ahead. Write at least " + connections + ".");
            }
            return new LoadProfile.Open(model.arrivals.get(), spacing, connections, warmUp, measured, timeout)
                    .withConnectionLimit(limit);
        }
        return new LoadProfile.Closed(model.users.orElse(USUAL_USERS), thinkTime, warmUp, measured, timeout);
    }

    private static String progress(SecondSummary second, LoadProfile.Single load) {
        long total = load.total().toSeconds();
        return String.format(java.util.Locale.ROOT, "%3d of %d s   %s/s   p50 %s   p99 %s   failed %d      ",
                second.second() + 1, total, Written.significant(second.good()), Written.duration(second.p50()),
                Written.duration(second.p99()), second.failedTotal());
    }

    private void print(MeasuredRun.Result result, LoadProfile.Single load) {
        PrintWriter out = spec.commandLine().getOut();
        if (format == Main.Format.json) {
            out.println(TrialJson.write(url, load, result.figures(), result.soundness(), result.generator()));
        } else {
            if (Terminal.watched().isPresent()) {
                Terminal.again(spec.commandLine().getErr());
            }
            out.print(text(result, load));
        }
        out.flush();
    }

    private String text(MeasuredRun.Result result, LoadProfile.Single load) {
        RunFigures figures = result.figures();
        var text = new StringBuilder();
        text.append(url).append(": ").append(switch (load) {
            case LoadProfile.Closed closed -> closed.users() + " users";
            case LoadProfile.Open open -> Written.significant(open.arrivalsPerSecond()) + " arrivals/s";
        }).append(" for ").append(Written.time(load.measured())).append(" after ").append(Written.time(load.warmUp()))
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
