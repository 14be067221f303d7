package kadrem.load.campaign;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunOutcome;
import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.SignIn;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Offer;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;
import kadrem.load.net.Transport;

/** The calls that prepare and ask a candidate and are not part of the load. */
public final class Control {
    private static final Duration CALL_LIMIT = Duration.ofSeconds(60);
    private static final Duration PROBE_LIMIT = Duration.ofSeconds(2);
    private static final long PROBE_PAUSE_MILLIS = 20;

    private static final Workload NO_WORKLOAD = new Workload(List.of(), List.of());

    private final Map<String, String> objections = new ConcurrentHashMap<>();
    private final Path studyFolder;

    /** @param studyFolder folder to which certificate files are relative */
    public Control(Path studyFolder) {
        this.studyFolder = studyFolder;
    }

    /**
     * The answer of a control call.
     *
     * @param tls version and cipher; empty without TLS
     */
    public record Answer(int status, String server, String body, String protocol, String tls) {
        public boolean isSuccess() {
            return status >= 200 && status < 300;
        }
    }

    /** What is asked to see whether the candidate is ready, in words. */
    static String probed(Candidate candidate) {
        return candidate.address().isHttp() ? candidate.address() + candidate.ready() : candidate.address().toString();
    }

    /** Why the last probe of a candidate failed, to stand behind what failed; empty where it does not tell. */
    public String why(Candidate candidate) {
        String known = objections.getOrDefault(candidate.id(), "");
        return known.isEmpty() ? "" : " (" + known + ")";
    }

    /** What a driver needs to ask a candidate something that is not of the workload. */
    private DriverOrder order(Candidate candidate, Duration limit) {
        return new DriverOrder(candidate.address(), candidate.access(), NO_WORKLOAD, limit,
                Secrets.ofProcess(studyFolder), Transport.best());
    }

    /** What a field of a call may be by a candidate that is up; empty where it does not tell. */
    public List<Offer> offers(Candidate candidate, String field) {
        try {
            Optional<ProtocolDriver> driver = Drivers.of(candidate.address());
            return driver.isEmpty() ? List.of() : driver.get().offers(order(candidate, PROBE_LIMIT), field);
        } catch (UnusableCall cause) {
            objections.put(candidate.id(), String.valueOf(cause.getMessage()));
            return List.of();
        }
    }

    /** What the candidate tells of itself through its driver. */
    Map<String, String> told(Candidate candidate, ProtocolDriver driver) throws IOException {
        try {
            return driver.fingerprint(order(candidate, CALL_LIMIT));
        } catch (UnusableCall cause) {
            throw new IOException(cause.getMessage(), cause);
        }
    }

    /** Whether something accepts connections where the candidate is to answer. */
    public boolean answers(Candidate candidate) {
        if (!candidate.address().hasPort()) {
            return false;
        }
        Optional<String> socket = candidate.access().wire().socket();
        return socket.isPresent()
                ? answers(studyFolder.resolve(socket.get()))
                : answers(candidate.address());
    }

    private static boolean answers(Path socket) {
        try (SocketChannel channel = SocketChannel.open(StandardProtocolFamily.UNIX)) {
            return channel.connect(UnixDomainSocketAddress.of(socket));
        } catch (IOException _) {
            return false;
        }
    }

    private static boolean answers(Address address) {
        try (var socket = new Socket()) {
            socket.connect(new InetSocketAddress(address.host(), address.port()), 1000);
            return true;
        } catch (IOException _) {
            return false;
        }
    }

    /** One call of the ready probe; true where the answer is a success. */
    public boolean isReady(Candidate candidate) {
        try {
            Optional<ProtocolDriver> driver = Drivers.of(candidate.address());
            if (driver.isPresent()) {
                // the usual path is one of HTTP
                String ready = candidate.ready().equals(Candidate.USUAL_READY) ? "" : candidate.ready();
                driver.get().probe(order(candidate, PROBE_LIMIT), ready);
                return true;
            }
            return call("GET", candidate, candidate.ready(), PROBE_LIMIT).isSuccess();
        } catch (IOException | UnusableCall cause) {
            objections.put(candidate.id(), String.valueOf(cause.getMessage()));
            return false;
        }
    }

    /**
     * Waits until the ready probe answers.
     *
     * @throws CandidateFailure if the process ends first, or the time limit passes
     */
    public void awaitReady(Candidate candidate, Launch launch, CandidateProcess process)
            throws CandidateFailure, InterruptedException {
        long deadline = System.nanoTime() + launch.readyWithin().toNanos();
        while (!isUp(candidate)) {
            if (!process.isAlive()) {
                throw new CandidateFailure(RunOutcome.DID_NOT_START,
                        "it " + process.howItEnded() + " before its ready probe answered");
            }
            if (System.nanoTime() > deadline) {
                throw new CandidateFailure(RunOutcome.DID_NOT_START, "its ready probe " + probed(candidate)
                        + " did not answer with success within " + launch.readyWithin().toSeconds() + " s"
                        + why(candidate));
            }
            Thread.sleep(PROBE_PAUSE_MILLIS);
        }
    }

    /** A call costs milliseconds of a processor, of which a candidate that starts has need; whether anything listens is cheap to see. */
    private boolean isUp(Candidate candidate) {
        if (candidate.address().isHttp() && !answers(candidate)) {
            objections.put(candidate.id(), "nothing listens there");
            return false;
        }
        return isReady(candidate);
    }

    /** Puts the candidate's data back to the start, if the study says how. */
    void reset(Candidate candidate) throws CandidateFailure, InterruptedException {
        if (candidate.reset().isPresent()) {
            switch (candidate.reset().get()) {
                case Candidate.ControlCall call -> reset(candidate, call);
                case Candidate.ControlCommand command -> reset(candidate, command);
                case Candidate.ControlAsk(String words) -> ask(candidate, words, "reset");
                case Candidate.ControlSql sql ->
                    DatabaseReset.run(sql, Secrets.ofProcess(studyFolder), CALL_LIMIT);
            }
        }
    }

    /**
     * What the candidate says of the data it holds; empty where the study does not ask.
     *
     * @throws CandidateFailure if it cannot be asked
     */
    Optional<String> data(Candidate candidate) throws CandidateFailure, InterruptedException {
        if (candidate.data().isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(switch (candidate.data().get()) {
            case Candidate.ControlCall call -> answer(candidate, call, "question for its data").body().strip();
            case Candidate.ControlCommand command -> run(candidate, command, "command for its data").strip();
            case Candidate.ControlAsk(String words) -> ask(candidate, words, "question for its data").strip();
            case Candidate.ControlSql sql -> DatabaseReset.ask(sql, Secrets.ofProcess(studyFolder), CALL_LIMIT);
        });
    }

    private String ask(Candidate candidate, String words, String what) throws CandidateFailure {
        Optional<ProtocolDriver> driver = Drivers.of(candidate.address());
        if (driver.isEmpty()) {
            throw new CandidateFailure("its " + what + " is in words of a protocol, but it speaks HTTP; give a path");
        }
        try {
            return driver.get().ask(order(candidate, CALL_LIMIT), words);
        } catch (IOException | UnusableCall cause) {
            throw new CandidateFailure("its " + what + " \"" + words + "\" failed: " + cause.getMessage());
        }
    }

    private void reset(Candidate candidate, Candidate.ControlCommand reset)
            throws CandidateFailure, InterruptedException {
        run(candidate, reset, "reset command");
    }

    /** What a command prints. */
    private String run(Candidate candidate, Candidate.ControlCommand reset, String what)
            throws CandidateFailure, InterruptedException {
        String folder = candidate.launch().map(Launch::folder).orElse(".");
        var builder = new ProcessBuilder(reset.command()).directory(studyFolder.resolve(folder).toFile())
                .redirectErrorStream(true).redirectInput(ProcessBuilder.Redirect.PIPE);
        candidate.launch().ifPresent(launch -> builder.environment().putAll(launch.environment()));
        try {
            Process process = builder.start();
            process.getOutputStream().close();
            var output = new ByteArrayOutputStream();
            Thread reader = Thread.ofVirtual().start(() -> {
                try {
                    process.getInputStream().transferTo(output);
                } catch (IOException _) {
                    // the process is gone
                }
            });
            if (!process.waitFor(CALL_LIMIT.toMillis(), TimeUnit.MILLISECONDS)) {
                CandidateProcess.endTree(process.toHandle(), Duration.ofSeconds(1));
                throw new CandidateFailure("its " + what + " " + reset.words() + " did not end within "
                        + CALL_LIMIT.toSeconds() + " s");
            }
            reader.join(Duration.ofSeconds(1));
            if (process.exitValue() != 0) {
                String last = output.toString(StandardCharsets.UTF_8).lines().reduce((_, line) -> line).orElse("");
                throw new CandidateFailure("its " + what + " " + reset.words() + " ended with exit code "
                        + process.exitValue() + (last.isEmpty() ? "" : ": " + last));
            }
            return output.toString(StandardCharsets.UTF_8);
        } catch (IOException cause) {
            throw new CandidateFailure("its " + what + " " + reset.words() + " cannot be run: " + cause.getMessage());
        }
    }

    private void reset(Candidate candidate, Candidate.ControlCall reset) throws CandidateFailure, InterruptedException {
        answer(candidate, reset, "reset");
    }

    private Answer answer(Candidate candidate, Candidate.ControlCall reset, String what)
            throws CandidateFailure, InterruptedException {
        String called = reset.method() + " " + candidate.address() + reset.path();
        try {
            Answer answer = call(reset.method(), candidate, reset.path(), CALL_LIMIT);
            if (!answer.isSuccess()) {
                throw new CandidateFailure("its " + what + " " + called + " answered with status " + answer.status());
            }
            return answer;
        } catch (IOException cause) {
            throw new CandidateFailure("its " + what + " " + called + " failed: " + cause);
        }
    }

    /** One control call, by the client that makes the load, on a connection of its own and without the candidate's sign-in. */
    public Answer call(String method, Candidate candidate, String path, Duration limit) throws IOException {
        var workload = new Workload(List.of(),
                List.of(new Visit("control", 1, List.of(Call.of("control", method, path.isEmpty() ? "/" : path)))));
        Access access = candidate.access();
        var order = new DriverOrder(candidate.address(), new Access(new SignIn.None(), access.tls(), access.wire()),
                workload, limit, Secrets.ofProcess(studyFolder), Transport.best());
        try (Driver driver = Drivers.open(order); Rehearser rehearser = driver.newRehearser()) {
            var stream = new LoadStream(workload, 0, 0);
            LoadStream.Draw draw = stream.newDraw();
            stream.draw(0, 0, draw);
            RehearsedCall made = rehearser.call("control", 0, new CallValues(draw, 0));
            if (made.status() == 0) {
                throw new IOException(made.failure().map(FailureKind::id).orElse("no answer")
                        + (made.detail().isEmpty() ? "" : ": " + made.detail()));
            }
            return new Answer(made.status(), made.header("server"),
                    new String(made.decoded().toArray(), StandardCharsets.UTF_8),
                    access.wire().protocol() == Wire.Protocol.HTTP_2 ? "HTTP/2" : "HTTP/1.1", rehearser.tls());
        } catch (UnusableCall cause) {
            throw new IOException(cause.getMessage(), cause);
        }
    }
}
