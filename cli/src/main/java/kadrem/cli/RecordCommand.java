package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

import kadrem.files.imports.Answer;
import kadrem.files.imports.CallCollector;
import kadrem.files.imports.Imported;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.gate.Consent;
import kadrem.load.record.RecordingProxy;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code kadrem record --into STUDY}. */
@Command(name = "record", mixinStandardHelpOptions = true, sortOptions = false, description = "Listens as a proxy for plain HTTP, passes on what a client sends through it, and adds that to a"
        + " study as a visit.")
final class RecordCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Option(names = "--into", required = true, paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--port", paramLabel = "N", defaultValue = "18090", description = "port on 127.0.0.1 (default ${DEFAULT-VALUE})")
    private int port;
    @Option(names = "--calls", paramLabel = "N", description = "stop by itself after so many requests (default: on Ctrl-C)")
    private Optional<Integer> calls;
    @Option(names = "--static", description = "keep style sheets, scripts, pictures and fonts")
    private boolean keepStatic;

    RecordCommand() {
        spec = CommandSpec.create();
        folder = Path.of("");
        calls = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, InterruptedException {
        PrintWriter out = spec.commandLine().getOut();
        StudyFile study = StudyFile.read(folder);
        var collector = new CallCollector(_ -> true, keepStatic);
        var enough = new CountDownLatch(calls.orElse(Integer.MAX_VALUE));
        var kept = new CountDownLatch(1);
        try (RecordingProxy proxy = RecordingProxy.on(port, Consent.ofUser()::allows, request -> {
            synchronized (collector) {
                collector.take(request.method(), request.host(), request.target(), request.headers(), request.body(),
                        Answer.of(request.contentType(), request.answerHeaders(), request.answer()),
                        Optional.of(request.begun()), request.took());
            }
            out.println("  " + request.method() + " " + request.host() + request.target());
            enough.countDown();
        })) {
            out.println("Recording. Tell the client to use the proxy http://127.0.0.1:" + proxy.port()
                    + "; Ctrl-C ends it and keeps what was recorded.");
            Thread waiting = Thread.currentThread();
            Runtime.getRuntime().addShutdownHook(new Thread(() -> {
                waiting.interrupt();
                interrupted(kept);
            }));
            try {
                enough.await();
            } catch (InterruptedException _) {
                // Ctrl-C: what was recorded is kept
            }
            return keep(out, study, collector);
        } catch (IOException cause) {
            throw new Main.BadInput("The port " + port + " cannot be had: " + cause.getMessage()
                    + ". Choose another with --port.");
        } finally {
            kept.countDown();
        }
    }

    private static void interrupted(CountDownLatch kept) {
        try {
            kept.await(10, TimeUnit.SECONDS);
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }

    private Integer keep(PrintWriter out, StudyFile study, CallCollector collector)
            throws StudyException, IOException {
        synchronized (collector) {
            if (collector.isEmpty()) {
                out.println("Nothing was recorded, and nothing was changed.");
                return 0;
            }
            Imported imported = collector.imported("recorded");
            study.with(imported.edits(study.measured())).save();
            out.println(imported.summary());
            imported.notes().forEach(note -> out.println("note: " + note));
            out.println("Added as the visit \"recorded\" to " + folder + ".");
            return 0;
        }
    }
}
