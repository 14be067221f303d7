package kadrem.files.run;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

import kadrem.core.measure.CallTally;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondTally;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Writes tallies of equal lengths of time: counts as a table, response and service times as a histogram log. */
final class TallyWriter implements Closeable {
    private final List<String> calls;
    private final LatencyLog latency;
    private final CSVPrinter counts;

    /** The seconds inside a tally in which a call was made in a phase. */
    interface Spans {
        /** The first of them. */
        int from(int call, Phase phase);

        /** How many there are from the first to the last. */
        int seconds(int call, Phase phase);
    }

    TallyWriter(Path countsFile, Path latencyFile, Instant started, List<String> calls, int warmUpSeconds)
            throws IOException {
        this.calls = calls;
        latency = new LatencyLog(latencyFile, started,
                "Tag=CALL response time without the late part, CALL/raw as it was, CALL/service service time, CALL/late the"
                        + " generator's part, CALL/first until the first part of an answer,"
                        + " CALL/gap from part to part,"
                        + " warm-up/CALL the same in the warm-up, late the generator's delay of all sends; warm-up is the first "
                        + warmUpSeconds + " s");
        counts = new CSVPrinter(Files.newBufferedWriter(countsFile), CSVFormat.RFC4180);
        counts.printRecord(header());
        flush();
    }

    private static List<String> header() {
        var header = new ArrayList<>(List.of("second", "phase", "call", "intended", "sent", "good"));
        for (FailureKind kind : FailureKind.values()) {
            header.add("failed_" + kind.id().replace('-', '_'));
        }
        header.addAll(List.of("bytes_out", "bytes_in", "users", "backlog", "late_p99_ns", "seconds", "parts",
                "failed_statuses", "under_way", "own_faults", "answered_bytes", "in_pieces", "looked_into",
                "asked_bits",
                "answered_bits", "connections", "resumed", "carried", "busiest"));
        return header;
    }

    /** @param seconds length of the tally, whose second is its first */
    void write(SecondTally tally, int seconds, Spans spans) throws IOException {
        counts.printRecord(totalRow(tally, seconds));
        for (Phase phase : Phase.values()) {
            for (int i = 0; i < calls.size(); i++) {
                CallTally call = tally.call(i, phase);
                if (!call.isEmpty()) {
                    counts.printRecord(callRow(spans.from(i, phase), phase, calls.get(i), call,
                            spans.seconds(i, phase)));
                    String tag = phase == Phase.MEASURED ? calls.get(i) : phase.id() + "/" + calls.get(i);
                    if (call.hasTimes()) {
                        latency.write(tally.second, seconds, tag, call.response());
                        latency.write(tally.second, seconds, tag + RunReader.RAW, call.raw());
                        latency.write(tally.second, seconds, tag + RunReader.SERVICE, call.service());
                        latency.write(tally.second, seconds, tag + RunReader.LATE, call.late());
                    }
                    if (call.parts > 0) {
                        latency.write(tally.second, seconds, tag + RunReader.FIRST, call.first());
                        latency.write(tally.second, seconds, tag + RunReader.GAP, call.gap());
                    }
                }
            }
        }
        latency.write(tally.second, seconds, RunReader.ALL_LATE, tally.late);
        latency.write(tally.second, seconds, RunReader.CONNECT, tally.connect);
        latency.write(tally.second, seconds, RunReader.HANDSHAKE, tally.handshake);
    }

    private static List<Object> totalRow(SecondTally tally, int seconds) {
        var row = new ArrayList<Object>(List.of(tally.second, "", "", tally.intended, "", ""));
        for (int i = 0; i < FailureKind.values().length; i++) {
            row.add("");
        }
        row.addAll(List.of("", "", tally.busy, tally.backlog,
                tally.late.getTotalCount() == 0 ? "" : tally.late.getValueAtPercentile(99), seconds, "", "",
                Math.floor(tally.busyNanos / 1e6 / seconds) / 1000, tally.ownFaults, "", "", "", "", "",
                tally.connections.open, tally.connections.resumed, tally.connections.carried,
                tally.connections.busiest));
        return row;
    }

    private static List<Object> callRow(int second, Phase phase, String name, CallTally call, int seconds) {
        var row = new ArrayList<Object>(List.of(second, phase.id(), name, "", call.sent, call.good));
        for (long count : call.failed) {
            row.add(count);
        }
        row.addAll(List.of(call.bytesOut, call.bytesIn, "", "", "", seconds, call.parts,
                String.join(" ", call.statuses.entrySet().stream().map(one -> one.getKey() + ":" + one.getValue())
                        .toList()),
                "", "", call.answeredBytes, call.inPieces, call.lookedInto.calls,
                Long.toHexString(call.lookedInto.asked), Long.toHexString(call.lookedInto.answered), "", "", "", ""));
        return row;
    }

    void flush() throws IOException {
        latency.flush();
        counts.flush();
    }

    @Override
    public void close() throws IOException {
        flush();
        latency.close();
        counts.close();
    }
}
