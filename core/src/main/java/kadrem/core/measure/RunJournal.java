package kadrem.core.measure;

/**
 * Where a run under way is written, second by second. After each call what was given is on disk (flushed), so that the
 * end of the process loses at most the second under way. One thread.
 */
public interface RunJournal extends AutoCloseable {
    /** A journal for load that is looked at and not kept. */
    RunJournal NOT_KEPT = new RunJournal() {
        @Override
        public void second(SecondTally tally) {
            // not kept
        }

        @Override
        public void host(HostSample sample) {
            // not kept
        }

        @Override
        public void watched(WatchReading reading) {
            // not kept
        }

        @Override
        public void exchange(Exchange exchange) {
            // not kept
        }

        @Override
        public void record(RunRecord record) {
            // not kept
        }

        @Override
        public void close() {
            // nothing is open
        }
    };

    void second(SecondTally tally);

    void host(HostSample sample);

    void watched(WatchReading reading);

    void exchange(Exchange exchange);

    /** Replaces the run's record. */
    void record(RunRecord record);

    /** Ends the journal; the run is then whole on disk. */
    @Override
    void close();
}
