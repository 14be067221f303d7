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
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.RunOutcome;
import kadrem.core.study.Address;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.Workload;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.NotReady;
import kadrem.load.drive.Offer;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.http.HttpProtocol;
import kadrem.load.gate.Consent;
import kadrem.load.gate.NotAllowed;
import kadrem.load.net.Transport;

/**
 * The calls that prepare and ask a candidate and are not part of the load; one file, since all ways to a candidate stand where the word is
 * asked for. Each has the user's word or is not made, so that no way leads by it.
 */
public final class Control {
    private static final Duration CALL_LIMIT = Duration.ofSeconds(60);
    private static final Duration PROBE_LIMIT = Duration.ofSeconds(2);
    /** Somebody asked for it and waits; the first question of a protocol loads its classes, too. */
    private static final Duration OFFER_LIMIT = Duration.ofSeconds(10);
    private static final Duration FINGERPRINT_LIMIT = Duration.ofSeconds(15);
    private static final long PROBE_PAUSE_MILLIS = 20;

    private static final Workload NO_WORKLOAD = new Workload(List.of(), List.of());

    private final Map<String, String> objections = new ConcurrentHashMap<>();
    /** Candidates that have the user's word; it is not asked for at each of many probes. */
    private final Set<Candidate> allowed = ConcurrentHashMap.newKeySet();
    private final Path studyFolder;
    private final Workload workload;
    private final Consent consent;

    /**
     * @param studyFolder folder to which certificate files are relative
     * @param workload what the study sends, for which the user's word may be needed
     */
    Control(Path studyFolder, Workload workload, Consent consent) {
        this.studyFolder = studyFolder;
        this.workload = workload;
        this.consent = consent;
    }

    /** For the user who runs this program. */
    public static Control ofUser(Path studyFolder, Workload workload) {
        return new Control(studyFolder, workload, Consent.ofUser());
    }

    /** @throws CandidateFailure if something of the candidate waits for the user's word; says what, and how to give it */
    void requireWord(Candidate candidate) throws CandidateFailure {
        try {
            consent.require(candidate, workload, studyFolder);
            allowed.add(candidate);
        } catch (NotAllowed waits) {
            allowed.remove(candidate);
            throw new CandidateFailure(String.valueOf(waits.getMessage()));
        }
    }

    /** Whether the candidate has the user's word; if not, why it is asked nothing is kept. */
    public boolean mayAsk(Candidate candidate) {
        if (!allowed.contains(candidate)) {
            try {
                requireWord(candidate);
            } catch (CandidateFailure waits) {
                objections.put(candidate.id(), "what it would do waits for your word");
                return false;
            }
        }
        return true;
    }

    /** How a candidate took a ready probe. */
    public enum Answer {
        READY, NOT_READY,
        /** Nobody is there. */
        NONE,
        /** It could not be asked, as where a secret is missing. */
        NOT_ASKED
    }

    /**
     * What came of a ready probe.
     *
     * @param words what it answered, in a word, or why it is not ready
     */
    public record Probe(Answer answer, String words) {
        public boolean isReady() {
            return answer == Answer.READY;
        }
    }

    /** Whether something that Kadrem did not start may be asked in the place of the candidate: only in a study that was made here. */
    public boolean mayAskOthers(Candidate candidate) {
        return candidate.launch().isEmpty() || consent.isOwn(studyFolder);
    }

    /** What is asked to see whether the candidate is ready, in words. */
    static String probed(Candidate candidate) {
        return Drivers.of(candidate.address())
                .map(driver -> driver.probed(candidate.address(), ProtocolDriver.Questions.of(candidate)))
                .orElse(candidate.address().toString());
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
        if (!mayAsk(candidate)) {
            return List.of();
        }
        try {
            Optional<ProtocolDriver> driver = Drivers.of(candidate.address());
            return driver.isEmpty() ? List.of() : driver.get().offers(order(candidate, OFFER_LIMIT), field);
        } catch (UnusableCall cause) {
            objections.put(candidate.id(), String.valueOf(cause.getMessage()));
            return List.of();
        }
    }

    /** What the candidate tells of itself through its driver. */
    Map<String, String> told(Candidate candidate, ProtocolDriver driver) throws IOException {
        if (!mayAsk(candidate)) {
            throw new IOException(objections.get(candidate.id()));
        }
        try {
            return driver.fingerprint(order(candidate, FINGERPRINT_LIMIT), ProtocolDriver.Questions.of(candidate));
        } catch (UnusableCall cause) {
            throw new IOException(cause.getMessage(), cause);
        }
    }

    /** Whether something accepts connections where the candidate is to answer. */
    public boolean answers(Candidate candidate) {
        if (!candidate.address().hasPort() || !mayAsk(candidate)) {
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

    /** Asks the candidate whether it is ready. */
    public Probe probe(Candidate candidate) {
        if (!mayAsk(candidate)) {
            return new Probe(Answer.NOT_ASKED, objections.getOrDefault(candidate.id(), ""));
        }
        Probe probe;
        try {
            probe = new Probe(Answer.READY, Drivers.need(candidate.address()).probe(order(candidate, PROBE_LIMIT),
                    ProtocolDriver.Questions.of(candidate)));
        } catch (NotReady cause) {
            probe = new Probe(Answer.NOT_READY, String.valueOf(cause.getMessage()));
        } catch (IOException cause) {
            probe = new Probe(Answer.NONE, String.valueOf(cause.getMessage()));
        } catch (UnusableCall cause) {
            probe = new Probe(Answer.NOT_ASKED, String.valueOf(cause.getMessage()));
        }
        if (!probe.isReady()) {
            objections.put(candidate.id(), probe.words());
        }
        return probe;
    }

    /**
     * Waits until the ready probe answers.
     *
     * @throws CandidateFailure if the process ends first, or the time limit passes
     */
    public void awaitReady(Candidate candidate, Launch launch, CandidateProcess process)
            throws CandidateFailure, InterruptedException {
        long deadline = System.nanoTime() + launch.readyWithin().toNanos();
        while (!probe(candidate).isReady()) {
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

    /** Puts the candidate's data back to the start, if the study says how. */
    void reset(Candidate candidate) throws CandidateFailure, InterruptedException {
        if (candidate.reset().isPresent()) {
            requireWord(candidate);
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
        requireWord(candidate);
        return Optional.of(switch (candidate.data().get()) {
            case Candidate.ControlCall call -> answer(candidate, call, "question for its data").body().strip();
            case Candidate.ControlCommand command -> run(candidate, command, "command for its data").strip();
            case Candidate.ControlAsk(String words) -> ask(candidate, words, "question for its data").strip();
            case Candidate.ControlSql sql -> DatabaseReset.ask(sql, Secrets.ofProcess(studyFolder), CALL_LIMIT);
        });
    }

    private String ask(Candidate candidate, String words, String what) throws CandidateFailure {
        try {
            return Drivers.need(candidate.address()).ask(order(candidate, CALL_LIMIT), words);
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

    private void reset(Candidate candidate, Candidate.ControlCall reset) throws CandidateFailure {
        answer(candidate, reset, "reset");
    }

    private HttpProtocol.Answer answer(Candidate candidate, Candidate.ControlCall reset, String what)
            throws CandidateFailure {
        String called = reset.method() + " " + candidate.address() + reset.path();
        try {
            HttpProtocol.Answer answer = HttpProtocol.call(order(candidate, CALL_LIMIT), reset.method(), reset.path());
            if (!answer.isSuccess()) {
                throw new CandidateFailure("its " + what + " " + called + " answered with status " + answer.status());
            }
            return answer;
        } catch (IOException | UnusableCall cause) {
            throw new CandidateFailure("its " + what + " " + called + " failed: " + cause.getMessage());
        }
    }
}
