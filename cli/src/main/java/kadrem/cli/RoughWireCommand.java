package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.time.Duration;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.core.study.Address;
import kadrem.core.study.RoughWire;
import kadrem.core.study.Written;
import kadrem.core.study.grammar.Durations;
import kadrem.core.study.grammar.Words;
import kadrem.load.gate.Consent;
import kadrem.load.wire.Relay;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code kadrem rough-wire --to HOST:PORT}. */
@Command(name = "rough-wire", mixinStandardHelpOptions = true, sortOptions = false, description = "Listens on 127.0.0.1 and passes on what comes to another address, over a wire that is as bad as you say: between a"
        + " client and a candidate, or between a candidate and what it depends on.")
final class RoughWireCommand implements Callable<Integer> {
    private static final Pattern TARGET = Pattern.compile("(\\[[0-9a-fA-F:]+]|[A-Za-z0-9._-]+):(\\d{1,5})");
    private static final Pattern RATE = Pattern.compile("(\\d{1,12}(?:\\.\\d{1,6})?)\\s*(B|KiB|MiB|GiB)?(?:/s)?");
    private static final int MAX_PORT = 65_535;
    private static final Duration MAX_DELAY = Duration.ofMinutes(1);

    @Spec
    private CommandSpec spec;
    @Option(names = "--to", required = true, paramLabel = "HOST:PORT", description = "where it leads")
    private String to;
    @Option(names = "--port", paramLabel = "N", defaultValue = "0", description = "port on 127.0.0.1 (default: a free one)")
    private int port;
    @Option(names = "--delay", paramLabel = "TIME", defaultValue = "0s", description = "delay of all that goes either way, such as 20ms; an answer comes later by twice as much")
    private String delay;
    @Option(names = "--jitter", paramLabel = "TIME", defaultValue = "0s", description = "the delay of each piece is even between as much less and as much more; order stays")
    private String jitter;
    @Option(names = "--rate", paramLabel = "BYTES", description = "bytes a second each way at most, of all connections together, such as 512KiB")
    private Optional<String> rate;
    @Option(names = "--cut", paramLabel = "SHARE", defaultValue = "0%", description = "share of connections that are reset when an answer begins to come, such as 1%%")
    private String cut;
    @Option(names = "--refused", paramLabel = "SHARE", defaultValue = "0%", description = "share of connections that are reset as soon as they are made; at 100%% nobody listens")
    private String refused;
    @Option(names = "--half-open", paramLabel = "SHARE", defaultValue = "0%", description = "share of connections that are taken and never answered")
    private String halfOpen;
    @Option(names = "--seed", paramLabel = "N", defaultValue = "1", description = "fixes what happens to each connection (default ${DEFAULT-VALUE})")
    private long seed;
    @Option(names = "--for", paramLabel = "TIME", description = "ends by itself after so long (default: on Ctrl-C)")
    private Optional<String> length;

    RoughWireCommand() {
        spec = CommandSpec.create();
        to = "";
        delay = "";
        jitter = "";
        rate = Optional.empty();
        cut = "";
        refused = "";
        halfOpen = "";
        length = Optional.empty();
    }

    @Override
    public Integer call() throws Main.BadInput, InterruptedException {
        PrintWriter out = spec.commandLine().getOut();
        Address target = target();
        if (!Consent.ofUser().allows(target)) {
            throw new Main.BadInput(Consent.objection(target));
        }
        RoughWire wire = wire();
        Optional<Duration> ends = length.isEmpty()
                ? Optional.empty()
                : Optional.of(time("--for", length.get(), Duration.ofDays(7)));
        var told = new CountDownLatch(1);
        try (Relay relay = Relay.on(port, target, wire, seed)) {
            out.println("127.0.0.1:" + relay.port() + " leads to " + target.host() + ":" + target.port() + " "
                    + words(wire) + (ends.isEmpty() ? ". Ctrl-C ends it." : ", for " + Written.time(ends.get()) + "."));
            out.println("By itself this relay makes an answer " + Written.duration(Relay.ownDelay().toNanos())
                    + " later here.");
            wait(ends, told);
            Relay.Counts counts = relay.counts();
            out.println(counts.taken() + (counts.taken() == 1 ? " connection: " : " connections: ") + counts.cut()
                    + " cut, " + counts.refused() + " refused, "
                    + counts.halfOpen() + " never answered, " + counts.unreachable()
                    + " to which the target did not answer.");
            return 0;
        } catch (IllegalStateException | IOException cause) {
            throw new Main.BadInput("The port " + port + " cannot be had: " + cause.getMessage()
                    + ". Choose another with --port.");
        } finally {
            told.countDown();
        }
    }

    /** @param told counted down when what happened was told */
    private static void wait(Optional<Duration> ends, CountDownLatch told) {
        Thread waiting = Thread.currentThread();
        Runtime.getRuntime().addShutdownHook(new Thread(() -> {
            waiting.interrupt();
            try {
                told.await(3, TimeUnit.SECONDS);
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
        }));
        try {
            TimeUnit.NANOSECONDS.sleep(ends.map(Duration::toNanos).orElse(Long.MAX_VALUE));
        } catch (InterruptedException _) {
            // Ctrl-C: what happened is told
        }
    }

    private Address target() throws Main.BadInput {
        Matcher matcher = TARGET.matcher(to);
        if (!matcher.matches() || Integer.parseInt(matcher.group(2)) > MAX_PORT) {
            throw new Main.BadInput("--to is \"" + to + "\". Write a host and a port, such as 127.0.0.1:5432.");
        }
        return new Address(matcher.group(1).replaceAll("[\\[\\]]", ""), Integer.parseInt(matcher.group(2)), "");
    }

    private RoughWire wire() throws Main.BadInput {
        Duration every = time("--delay", delay, MAX_DELAY);
        Duration even = time("--jitter", jitter, MAX_DELAY);
        if (even.compareTo(every) > 0) {
            throw new Main.BadInput("--jitter is " + jitter + ", more than the delay. Use at most " + delay + ".");
        }
        double[] shares = {share("--cut", cut), share("--refused", refused), share("--half-open", halfOpen)};
        if (shares[0] + shares[1] + shares[2] > 1) {
            throw new Main.BadInput("--cut, --refused and --half-open are more than 100 % together. Use less.");
        }
        return new RoughWire(every, even, bytes(), shares[0], shares[1], shares[2]);
    }

    private static Duration time(String option, String text, Duration most) throws Main.BadInput {
        return Durations.parse(text).filter(time -> !time.isNegative() && time.compareTo(most) <= 0)
                .orElseThrow(() -> new Main.BadInput(option + " is \"" + text + "\". Write a time up to "
                        + Durations.write(most) + ", such as 20ms."));
    }

    private static double share(String option, String text) throws Main.BadInput {
        return Words.share(text).filter(share -> share >= 0 && share <= 1)
                .orElseThrow(() -> new Main.BadInput(option + " is \"" + text + "\". Write a share, such as 1%."));
    }

    private OptionalLong bytes() throws Main.BadInput {
        if (rate.isEmpty()) {
            return OptionalLong.empty();
        }
        Matcher matcher = RATE.matcher(rate.get());
        if (!matcher.matches()) {
            throw new Main.BadInput("--rate is \"" + rate.get() + "\". Write bytes a second, such as 512KiB.");
        }
        String unit = Optional.ofNullable(matcher.group(2)).orElse("B");
        long factor = switch (unit) {
            case "KiB" -> 1L << 10;
            case "MiB" -> 1L << 20;
            case "GiB" -> 1L << 30;
            default -> 1;
        };
        long found = Math.round(Double.parseDouble(matcher.group(1)) * factor);
        if (found < 1) {
            throw new Main.BadInput("--rate is \"" + rate.get() + "\". Write a byte a second at least.");
        }
        return OptionalLong.of(found);
    }

    /** "with 20 ms ± 5 ms each way, 512 KiB/s at most". */
    private static String words(RoughWire wire) {
        var words = new StringBuilder();
        if (!wire.delay().isZero()) {
            words.append(", ").append(Written.duration(wire.delay().toNanos()));
            if (!wire.jitter().isZero()) {
                words.append(" ± ").append(Written.duration(wire.jitter().toNanos()));
            }
            words.append(" each way");
        }
        wire.bytesPerSecond().ifPresent(rate -> words.append(", ").append(Written.bytes(rate)).append("/s at most"));
        lost(words, wire.cut(), "cut");
        lost(words, wire.refused(), "refused");
        lost(words, wire.halfOpen(), "never answered");
        return words.isEmpty() ? "as it is" : "with " + words.substring(2);
    }

    private static void lost(StringBuilder words, double share, String what) {
        if (share > 0) {
            words.append(", ").append(Written.share(share)).append(" of connections ").append(what);
        }
    }
}
