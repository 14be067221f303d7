package kadrem.work;

import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

import kadrem.core.study.Candidate;
import kadrem.core.study.Workload;
import kadrem.core.study.Written;
import kadrem.load.campaign.CandidateFailure;
import kadrem.load.campaign.CandidateProcess;
import kadrem.load.campaign.Control;
import kadrem.load.campaign.Fingerprint;
import kadrem.load.campaign.Launching;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Candidates that were launched by hand to look at them. It does its work on virtual threads; any thread may ask. */
public final class Launched implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Launched.class);

    private final ExecutorService work = Executors.newVirtualThreadPerTaskExecutor();
    private final Map<String, Status> statuses = new ConcurrentHashMap<>();
    private final Map<String, CandidateProcess> processes = new ConcurrentHashMap<>();
    private final Runnable changed;

    /** How a candidate stands. */
    public sealed interface Status {
        String words();

        default boolean isUp() {
            return this instanceof Up;
        }

        default boolean isProblem() {
            return this instanceof Problem;
        }

        default boolean isRunning() {
            return this instanceof ComingUp || this instanceof Up up && up.launchedHere();
        }

        default Optional<Map<String, String>> fingerprint() {
            return this instanceof Up up ? Optional.of(up.print()) : Optional.empty();
        }

        record Down() implements Status {
            @Override
            public String words() {
                return "not running";
            }
        }

        record ComingUp() implements Status {
            @Override
            public String words() {
                return "coming up …";
            }
        }

        record Up(String words, boolean launchedHere, Map<String, String> print) implements Status {
        }

        record Problem(String words) implements Status {
        }
    }

    /** @param changed told after each change, on any thread */
    public Launched(Runnable changed) {
        this.changed = changed;
    }

    public Status status(String candidate) {
        return statuses.getOrDefault(candidate, new Status.Down());
    }

    private void set(String candidate, Status status) {
        statuses.put(candidate, status);
        changed.run();
    }

    /** A look at a candidate, which may be interrupted. */
    @FunctionalInterface
    private interface Deed {
        void run() throws InterruptedException;
    }

    /** Whatever breaks down over it, as a driver of the user's own may: nobody waits for what never comes. */
    private void look(Candidate candidate, Deed deed) {
        work.execute(() -> {
            try {
                deed.run();
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            } catch (RuntimeException | Error cause) {
                LOG.error("a look at {}", candidate.id(), cause);
                end(candidate.id());
                set(candidate.id(), new Status.Problem("the look at it broke down: " + cause));
            }
        });
    }

    public void launch(Candidate candidate, Workload workload, Path studyFolder) {
        if (candidate.launch().isEmpty() || status(candidate.id()).isRunning()) {
            return;
        }
        set(candidate.id(), new Status.ComingUp());
        look(candidate, () -> {
            end(candidate.id());
            var control = Control.ofUser(studyFolder, workload);
            try {
                long begun = System.nanoTime();
                CandidateProcess process = new Launching(studyFolder, Program.command(),
                        control).launch(candidate, "look-" + UUID.randomUUID(),
                                started -> processes.put(candidate.id(), started));
                String took = Written.duration(System.nanoTime() - begun);
                set(candidate.id(), new Status.Up("up after " + took, true,
                        Fingerprint.of(candidate, Optional.of(process), studyFolder, control)));
            } catch (CandidateFailure failure) {
                CandidateProcess process = processes.remove(candidate.id());
                String last = process == null || process.lastLines().isEmpty()
                        ? ""
                        : "\nits last words: " + process.lastLines().getLast();
                if (process != null) {
                    process.stop();
                }
                set(candidate.id(), new Status.Problem(failure.getMessage() + last));
            }
        });
    }

    public void probe(Candidate candidate, Workload workload, Path studyFolder) {
        look(candidate, () -> {
            long begun = System.nanoTime();
            var control = Control.ofUser(studyFolder, workload);
            if (control.mayAsk(candidate) && !control.mayAskOthers(candidate)
                    && !processes.containsKey(candidate.id())) {
                // the word is for what the launch command starts; whatever else listens there is asked nothing
                set(candidate.id(), control.answers(candidate)
                        ? new Status.Problem("something else listens at " + candidate.address()
                                + "; end it, or take the launch command out")
                        : new Status.Down());
                return;
            }
            Control.Probe probe = control.probe(candidate);
            String took = Written.duration(System.nanoTime() - begun);
            set(candidate.id(), switch (probe.answer()) {
                case READY -> {
                    Optional<CandidateProcess> process = Optional.ofNullable(processes.get(candidate.id()));
                    yield new Status.Up(
                            "answers " + (probe.words().isEmpty() ? "" : probe.words() + " ") + "in " + took,
                            process.isPresent(), Fingerprint.of(candidate, process, studyFolder, control));
                }
                case NOT_READY -> new Status.Problem(probe.words() + " in " + took);
                case NOT_ASKED -> new Status.Problem(probe.words());
                case NONE -> processes.containsKey(candidate.id())
                        ? new Status.Problem("does not answer" + control.why(candidate))
                        : new Status.Down();
            });
        });
    }

    /** The process of a candidate that was launched here. */
    public OptionalLong pid(String candidate) {
        CandidateProcess process = processes.get(candidate);
        return process == null ? OptionalLong.empty() : OptionalLong.of(process.pid());
    }

    public void stop(String candidate) {
        work.execute(() -> stopNow(candidate));
    }

    private void stopNow(String candidate) {
        if (end(candidate)) {
            set(candidate, new Status.Down());
        }
    }

    /** Ends the process that was launched here, if there is one. */
    private boolean end(String candidate) {
        CandidateProcess process = processes.remove(candidate);
        if (process != null) {
            process.stop();
        }
        return process != null;
    }

    public void stopAll() {
        processes.keySet().forEach(this::stop);
    }

    /** Stops all and then runs {@code then}, on a thread of its own. */
    public void stopAll(Runnable then) {
        work.execute(() -> {
            processes.keySet().forEach(this::stopNow);
            then.run();
        });
    }

    @Override
    public void close() {
        work.shutdownNow();
        processes.values().forEach(CandidateProcess::stop);
    }
}
