package kadrem.load.drive.command;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.LongAccumulator;
import java.util.concurrent.atomic.LongAdder;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Spent;
import kadrem.load.drive.Template;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import org.jspecify.annotations.Nullable;

/** Starts a program for each call and waits for its end. Its exit code is the status of the answer, moved up by one thousand. */
final class CommandClient implements Client<CommandClient.Ready> {
    /** Added to an exit code, so that 0 is no "no answer". */
    private static final int OFFSET = 1000;
    private static final int MAX_KEPT = 16 * 1024 * 1024;
    private static final int MAX_ERROR = 200;

    private static final ExecutorService THREADS = Executors.newCachedThreadPool(
            Thread.ofPlatform().daemon().name("kadrem-program-", 0).factory());

    private final DriverOrder order;
    private final List<Compiled> programs = new ArrayList<>();
    private final LongAdder processorNanos = new LongAdder();
    private final LongAccumulator peakBytes = new LongAccumulator(Math::max, 0);
    private final LongAdder ended = new LongAdder();

    /** A call compiled. */
    private record Compiled(List<Template> words, Template input, Set<Integer> codes) {
    }

    /** A call with its values. */
    record Ready(List<String> words, String input, Set<Integer> codes) {
    }

    CommandClient(DriverOrder order) throws UnusableCall {
        this.order = order;
        for (Call call : order.workload().calls()) {
            Form form = call.form(CommandProtocol.ID)
                    .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked as a command"));
            var words = new ArrayList<Template>();
            for (String word : form.texts("command")) {
                words.add(Template.of(order.slots(), Body.Kind.TEXT, word));
            }
            String codes = form.text("codes").isBlank() ? "0" : form.text("codes");
            programs.add(new Compiled(words, Template.of(order.slots(), Body.Kind.TEXT, form.text("input")),
                    Stream.of(codes.strip().split("[\\s,]+")).map(Integer::valueOf).collect(Collectors.toSet())));
        }
    }

    @Override
    public Ready ready(int call, CallValues values) {
        Compiled program = programs.get(call);
        return new Ready(program.words().stream().map(word -> word.fill(values)).toList(),
                program.input().fill(values), program.codes());
    }

    @Override
    public String shown(int call, CallValues values) {
        Compiled program = programs.get(call);
        String input = program.input().shown(values);
        return String.join(" ", program.words().stream().map(word -> word.shown(values)).toList())
                + (input.isEmpty() ? "" : "\n\n" + input);
    }

    @Override
    public UserConnection<Ready> connect() {
        return new Starter();
    }

    @Override
    public String statusWord(int status) {
        return status < OFFSET ? "" : "exit code " + (status - OFFSET);
    }

    @Override
    public void close() {
        // each program ends with its call
    }

    @Override
    public Optional<Spent> spent() {
        return PosixProgram.isPossible()
                ? Optional.of(new Spent(processorNanos.sum(), peakBytes.getThenReset(),
                        Math.toIntExact(ended.sumThenReset())))
                : Optional.empty();
    }

    /** Starts one program at a time. */
    private final class Starter implements UserConnection<Ready> {
        private volatile @Nullable Program running;

        @Override
        public Answer call(int call, Ready ready, boolean keeps, Marks marks)
                throws CallFailure, InterruptedException {
            Program program;
            try {
                program = Program.start(ready.words(), CommandProtocol.folder(order));
            } catch (IOException cause) {
                throw new CallFailure(FailureKind.NO_CONNECTION, 0,
                        "the program cannot be started: " + cause.getMessage());
            }
            running = program;
            try (OutputStream in = program.input();
                    InputStream out = program.output();
                    InputStream err = program.errors()) {
                var errors = new ByteArrayOutputStream();
                Future<?> reader = THREADS.submit(() -> read(err, errors));
                byte[] input = ready.input().getBytes(StandardCharsets.UTF_8);
                Future<?> writer = THREADS.submit(() -> write(in, input));
                var output = new ByteArrayOutputStream();
                Future<Long> received = THREADS.submit(() -> receive(out, keeps ? output : null, marks));
                long bytes = received.get();
                int code = count(THREADS.submit(program::await).get());
                running = null;
                settle(reader);
                settle(writer);
                if (!ready.codes().contains(code)) {
                    String why = errors.toString(StandardCharsets.UTF_8).strip();
                    throw new CallFailure(FailureKind.UNEXPECTED_STATUS, OFFSET + code, "exit code " + code
                            + (why.isEmpty() ? "" : ": " + why.substring(0, Math.min(MAX_ERROR, why.length()))));
                }
                String start = output.size() == 0 ? "" : output.toString(StandardCharsets.UTF_8).stripLeading();
                boolean json = start.startsWith("{") || start.startsWith("[");
                return new Answer(OFFSET + code, input.length, bytes, "exit code " + code,
                        json ? "application/json" : "text/plain", output.toByteArray());
            } catch (IOException | ExecutionException cause) {
                throw new CallFailure(FailureKind.RESET, 0, "its output cannot be read: " + cause.getMessage());
            } finally {
                if (running != null) {
                    running = null;
                    program.end();
                    // so that nothing of it stays with the system
                    THREADS.submit(program::await);
                }
            }
        }

        /** What it has printed is there, and what it has not read is no matter; something that it started may keep both open. */
        private static void settle(Future<?> stream) throws InterruptedException, ExecutionException {
            try {
                stream.get(1, TimeUnit.SECONDS);
            } catch (TimeoutException _) {
                // it goes on without being waited for
            }
        }

        private int count(Program.Ended one) {
            if (one.processorNanos() >= 0) {
                processorNanos.add(one.processorNanos());
                peakBytes.accumulate(one.peakBytes());
                ended.increment();
            }
            return one.code();
        }

        private static long receive(InputStream in, @Nullable ByteArrayOutputStream kept, Marks marks)
                throws IOException {
            byte[] buffer = new byte[8192];
            long bytes = 0;
            for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
                if (bytes == 0) {
                    marks.part();
                }
                bytes += read;
                if (kept != null && kept.size() < MAX_KEPT) {
                    kept.write(buffer, 0, read);
                }
            }
            return bytes;
        }

        private static void read(InputStream in, ByteArrayOutputStream kept) {
            try {
                kept.write(in.readNBytes(MAX_ERROR * 4));
                in.skip(Long.MAX_VALUE);
            } catch (IOException _) {
                // the program has ended
            }
        }

        private static void write(OutputStream in, byte[] input) {
            try (in) {
                in.write(input);
            } catch (IOException _) {
                // the program does not read it
            }
        }

        @Override
        public void cancel() {
            Program program = running;
            if (program != null) {
                program.end();
            }
        }

        @Override
        public boolean isUsable() {
            return true;
        }

        @Override
        public void close() {
            cancel();
        }
    }
}
