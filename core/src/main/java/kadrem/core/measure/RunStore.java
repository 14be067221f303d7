package kadrem.core.measure;

import java.util.List;

/** The runs of one study. */
public interface RunStore {
    /** All runs on record, whatever their outcome, by round and position. */
    List<RunRecord> runs();

    /** Opens the journal of a new run and puts its record on disk. */
    RunJournal begin(RunRecord record, List<String> callNames, int warmUpSeconds);

    /** Replaces the record of a run that is not under way. */
    void replace(RunRecord record);
}
