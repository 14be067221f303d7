package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;
import java.util.function.Consumer;

import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;

/**
 * How a candidate comes up, the same for a run, a rehearsal and a look in the window: the user's word, the launch, the ready probe,
 * the reset.
 *
 * @param studyFolder folder to which working folders of launches are relative
 * @param kadrem what {@code {{kadrem}}} in a launch command stands for
 */
public record Launching(Path studyFolder, String kadrem, Control control) {
    private static final int PROBES = 3;
    private static final Duration PROBE_PAUSE = Duration.ofMillis(250);

    /**
     * Launches the candidate and waits until it is ready.
     *
     * @param runId put into the environment of the process
     * @param started told as soon as there is a process
     * @throws CandidateFailure if it may not be launched or does not come up; its process is then stopped
     */
    public CandidateProcess launch(Candidate candidate, String runId, Consumer<CandidateProcess> started)
            throws CandidateFailure, InterruptedException {
        control.requireWord(candidate);
        Launch launch = candidate.launch().orElseThrow(
                () -> new CandidateFailure("the study does not say how to launch it"));
        if (control.answers(candidate)) {
            throw new CandidateFailure("port " + candidate.address().port() + " on " + candidate.address().host()
                    + " is already in use by another process; end that process, or give the candidate another port in its"
                    + " address and launch command");
        }
        CandidateProcess process = CandidateProcess.start(candidate, launch, studyFolder, kadrem, runId);
        started.accept(process);
        try {
            control.awaitReady(candidate, launch, process);
        } catch (CandidateFailure | InterruptedException cause) {
            process.stop();
            throw cause;
        }
        return process;
    }

    /**
     * Sees that a candidate that was not launched here answers, at one of a few probes: a moment in which it does not is no reason to do
     * without its run.
     *
     * @throws CandidateFailure if it does not, or may not be asked
     */
    public void find(Candidate candidate) throws CandidateFailure, InterruptedException {
        control.requireWord(candidate);
        boolean ready = control.probe(candidate).isReady();
        for (int probe = 1; probe < PROBES && !ready; probe++) {
            Thread.sleep(PROBE_PAUSE);
            ready = control.probe(candidate).isReady();
        }
        if (!ready) {
            throw new CandidateFailure("its ready probe " + Control.probed(candidate) + " does not answer with success"
                    + control.why(candidate)
                    + (candidate.launch().isPresent() ? "" : ", and the study does not say how to launch it"));
        }
    }

    /**
     * Brings a candidate up and resets it: launched, unless it is up already or runs elsewhere.
     *
     * @param isUp whether it is up already
     * @param step told what is done
     * @return its process, if it was launched
     */
    Optional<CandidateProcess> bringUp(Candidate candidate, boolean isUp, String runId,
            Consumer<CandidateProcess> started, Consumer<Step> step) throws CandidateFailure, InterruptedException {
        Optional<CandidateProcess> launched = Optional.empty();
        if (candidate.launch().isPresent() && !isUp) {
            step.accept(Step.Plain.LAUNCHING);
            launched = Optional.of(launch(candidate, runId, started));
        } else {
            find(candidate);
        }
        try {
            if (candidate.reset().isPresent()) {
                step.accept(Step.Plain.RESETTING);
            }
            control.reset(candidate);
        } catch (CandidateFailure | InterruptedException cause) {
            launched.ifPresent(CandidateProcess::stop);
            throw cause;
        }
        return launched;
    }
}
