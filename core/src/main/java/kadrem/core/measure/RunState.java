package kadrem.core.measure;

import java.time.Instant;

/** How far a run has come. */
public sealed interface RunState {
    RunOutcome outcome();

    /** Why the run did not end as planned; empty where it did, or has not ended. */
    default String reason() {
        return "";
    }

    /** It is being made, or was when Kadrem was last heard of. */
    record UnderWay() implements RunState {
        @Override
        public RunOutcome outcome() {
            return RunOutcome.RUNNING;
        }
    }

    /**
     * It is over.
     *
     * @param outcome any but {@link RunOutcome#RUNNING}
     */
    record Ended(RunOutcome outcome, String reason, Instant at) implements RunState {
        public Ended {
            if (outcome == RunOutcome.RUNNING) {
                throw new IllegalArgumentException("a run that is being made has not ended");
            }
        }
    }
}
