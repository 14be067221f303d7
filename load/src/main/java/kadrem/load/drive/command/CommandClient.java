package kadrem.load.drive.command;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Template;
import kadrem.load.drive.UnusableCall;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import org.jspecify.annotations.Nullable;

/** Starts a program for each call and waits for its end. Its exit code is the status of the answer, moved up by one thousand. */
final class CommandClient implements Client<CommandClient.Ready> {
    /** Added to an exit code, so that 0 is no "no answer". */
    private static final int OFFSET = 1000;
    private static final int MOST_KEPT = 16 * 1024 * 1024;
    private static final int MOST_ERROR = 200;

    private final DriverOrder order;
    private final List<Program> programs = new ArrayList<>();

    /** A call compiled. */
    private record Program(List<Template> words, Template input, Set<Integer> codes) {
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
            programs.add(new Program(words, Template.of(order.slots(), Body.Kind.TEXT, form.text("input")),
                    Stream.of(codes.strip().split("[\\s,]+")).map(Integer::valueOf).collect(Collectors.toSet())));
        }
    }

    @Override
    public Ready ready(int call, CallValues values) {
        Program program = programs.get(call);
        return new Ready(program.words().stream().map(word -> word.fill(values)).toList(),
                program.input().fill(values), program.codes());
    }

    @Override
    public String shown(int call, CallValues values) {
        Program program = programs.get(call);
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

    /** Starts one program at a time. */
    private final class Starter implements UserConnection<Ready> {
        private volatile @Nullable Process running;

        @Override
        public Answer call(int call, Ready ready, boolean keeps, Marks marks)
                throws CallFailure, InterruptedException {
            try {
                Process process = new ProcessBuilder(ready.words()).directory(CommandProtocol.folder(order).toFile())
                        .start();
                running = process;
                var errors = new ByteArrayOutputStream();
                Thread reader = Thread.ofVirtual().start(() -> read(process.getErrorStream(), errors));
                byte[] input = ready.input().getBytes(StandardCharsets.UTF_8);
                Thread writer = Thread.ofVirtual().start(() -> write(process, input));
                var output = new ByteArrayOutputStream();
                long bytes = receive(process.getInputStream(), keeps ? output : null, marks);
                int code = process.waitFor();
                reader.join(Duration.ofSeconds(1));
                writer.join(Duration.ofSeconds(1));
                if (!ready.codes().contains(code)) {
                    String why = errors.toString(StandardCharsets.UTF_8).strip();
                    throw new CallFailure(FailureKind.UNEXPECTED_STATUS, OFFSET + code, "exit code " + code
                            + (why.isEmpty() ? "" : ": " + why.substring(0, Math.min(MOST_ERROR, why.length()))));
                }
                String start = output.size() == 0 ? "" : output.toString(StandardCharsets.UTF_8).stripLeading();
                boolean json = start.startsWith("{") || start.startsWith("[");
                return new Answer(OFFSET + code, input.length, bytes, "exit code " + code,
                        json ? "application/json" : "text/plain", output.toByteArray());
            } catch (IOException cause) {
                throw new CallFailure(FailureKind.NO_CONNECTION, 0,
                        "the program cannot be started: " + cause.getMessage());
            } finally {
                running = null;
            }
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
                if (kept != null && kept.size() < MOST_KEPT) {
                    kept.write(buffer, 0, read);
                }
            }
            return bytes;
        }

        private static void read(InputStream in, ByteArrayOutputStream kept) {
            try {
                kept.write(in.readNBytes(MOST_ERROR * 4));
                in.skip(Long.MAX_VALUE);
            } catch (IOException _) {
                // the program has ended
            }
        }

        private static void write(Process process, byte[] input) {
            try (var out = process.getOutputStream()) {
                out.write(input);
            } catch (IOException _) {
                // the program does not read it
            }
        }

        @Override
        public void cancel() {
            Process process = running;
            if (process != null) {
                process.descendants().forEach(ProcessHandle::destroyForcibly);
                process.destroyForcibly();
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
