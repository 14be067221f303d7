package kadrem.core.measure;

/**
 * Where a run under way is written, second by second. After each call what was given is on disk (flushed), so that the
 * end of the process loses at most the second under way. One thread.
 */
public interface RunJournal {
    void second(SecondTally tally);

    void host(HostSample sample);

    void exchange(Exchange exchange);

    /** Replaces the run's record. */
    void record(RunRecord record);

    /** Ends the journal; the run is then whole on disk. */
    void close();
}
