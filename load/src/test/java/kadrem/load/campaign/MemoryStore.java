package kadrem.load.campaign;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

import kadrem.core.measure.Exchange;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunStore;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.WatchReading;

/** Keeps runs in memory for tests. */
final class MemoryStore implements RunStore {
    final Map<String, RunRecord> records = new LinkedHashMap<>();
    final List<HostSample> samples = new ArrayList<>();
    final Map<String, WatchView.Builder> watch = new ConcurrentHashMap<>();
    final Map<String, List<SecondSummary>> summaries = new ConcurrentHashMap<>();
    int seconds;

    @Override
    public synchronized List<RunRecord> runs() {
        return List.copyOf(records.values());
    }

    @Override
    public synchronized void replace(RunRecord record) {
        records.put(record.id(), record);
    }

    @Override
    public RunJournal begin(RunRecord begun, List<String> callNames, int warmUpSeconds) {
        replace(begun);
        return new RunJournal() {
            @Override
            public void second(SecondTally tally) {
                seconds++;
                summaries.computeIfAbsent(begun.id(), _ -> new ArrayList<>()).add(SecondSummary.of(tally));
            }

            @Override
            public void host(HostSample sample) {
                samples.add(sample);
            }

            @Override
            public void watched(WatchReading reading) {
                WatchView.Builder view = watch.computeIfAbsent(begun.id(), _ -> new WatchView.Builder());
                reading.values().forEach(value -> view.value(value.series(), reading.at(), value.value()));
                if (!reading.trouble().isEmpty()) {
                    view.trouble(reading.source(), reading.at(), reading.trouble());
                }
            }

            @Override
            public void exchange(Exchange exchange) {
                // not looked at
            }

            @Override
            public void record(RunRecord record) {
                replace(record);
            }

            @Override
            public void close() {
                // nothing is open
            }
        };
    }
}
