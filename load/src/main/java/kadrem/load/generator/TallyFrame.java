package kadrem.load.generator;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.Map;

import kadrem.core.measure.CallTally;
import kadrem.core.measure.LongTurns;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.TurnCause;
import org.HdrHistogram.IntCountsHistogram;

/** A second as bytes: its numbers, then what each call came to in each phase in which anything happened, histograms as their library writes them. */
final class TallyFrame {
    private ByteBuffer buffer = ByteBuffer.allocate(64 * 1024);

    byte[] write(SecondTally tally) throws IOException {
        var bytes = new ByteArrayOutputStream(8 * 1024);
        var out = new DataOutputStream(bytes);
        out.writeInt(tally.second);
        out.writeLong(tally.intended);
        out.writeLong(tally.busy);
        out.writeLong(tally.busyNanos);
        out.writeLong(tally.workNanos);
        out.writeLong(tally.backlog);
        out.writeLong(tally.connections.open);
        out.writeLong(tally.connections.resumed);
        out.writeLong(tally.connections.carried);
        out.writeLong(tally.connections.busiest);
        out.writeLong(tally.ownFaults);
        var turns = tally.longTurns.all();
        out.writeInt(turns.size());
        for (LongTurns.Of one : turns) {
            out.writeInt(one.cause().ordinal());
            out.writeLong(one.count());
            out.writeLong(one.totalNanos());
            out.writeLong(one.longestNanos());
        }
        write(out, tally.late);
        write(out, tally.connect);
        write(out, tally.handshake);
        for (Phase phase : Phase.values()) {
            for (int i = 0; i < tally.callCount(); i++) {
                CallTally call = tally.call(i, phase);
                if (!call.isEmpty()) {
                    out.writeInt(phase.ordinal() * tally.callCount() + i);
                    write(out, call);
                }
            }
        }
        out.writeInt(-1);
        return bytes.toByteArray();
    }

    private void write(DataOutputStream out, CallTally call) throws IOException {
        out.writeLong(call.sent);
        out.writeLong(call.good);
        out.writeLong(call.bytesOut);
        out.writeLong(call.bytesIn);
        out.writeLong(call.parts);
        out.writeLong(call.responseSum);
        out.writeLong(call.answeredBytes);
        out.writeLong(call.inPieces);
        out.writeLong(call.lookedInto.calls);
        out.writeLong(call.lookedInto.asked);
        out.writeLong(call.lookedInto.answered);
        for (long count : call.failed) {
            out.writeLong(count);
        }
        out.writeInt(call.statuses.size());
        for (Map.Entry<String, Long> status : call.statuses.entrySet()) {
            out.writeUTF(status.getKey());
            out.writeLong(status.getValue());
        }
        out.writeBoolean(call.hasTimes());
        if (call.hasTimes()) {
            write(out, call.response());
            write(out, call.raw());
            write(out, call.service());
            write(out, call.late());
        }
        if (call.parts > 0) {
            write(out, call.first());
            write(out, call.gap());
        }
    }

    private void write(DataOutputStream out, IntCountsHistogram histogram) throws IOException {
        if (histogram.getTotalCount() == 0) {
            out.writeInt(0);
            return;
        }
        if (buffer.capacity() < histogram.getNeededByteBufferCapacity()) {
            buffer = ByteBuffer.allocate(histogram.getNeededByteBufferCapacity());
        }
        buffer.clear();
        int length = histogram.encodeIntoByteBuffer(buffer);
        out.writeInt(length);
        out.write(buffer.array(), 0, length);
    }

    /** Reads a second into a cleared tally. */
    static void read(byte[] frame, int from, SecondTally into) throws IOException {
        var in = new DataInputStream(new ByteArrayInputStream(frame, from, frame.length - from));
        into.second = in.readInt();
        into.intended = in.readLong();
        into.busy = in.readLong();
        into.busyNanos = in.readLong();
        into.workNanos = in.readLong();
        into.backlog = in.readLong();
        into.connections.open = in.readLong();
        into.connections.resumed = in.readLong();
        into.connections.carried = in.readLong();
        into.connections.busiest = in.readLong();
        into.ownFaults = in.readLong();
        int turns = in.readInt();
        for (int i = 0; i < turns; i++) {
            into.longTurns.add(new LongTurns.Of(TurnCause.values()[in.readInt()], in.readLong(), in.readLong(),
                    in.readLong()));
        }
        read(in, into.late);
        read(in, into.connect);
        read(in, into.handshake);
        for (int place = in.readInt(); place >= 0; place = in.readInt()) {
            read(in, into.call(place % into.callCount(), Phase.values()[place / into.callCount()]));
        }
    }

    private static void read(DataInputStream in, CallTally call) throws IOException {
        call.sent = in.readLong();
        call.good = in.readLong();
        call.bytesOut = in.readLong();
        call.bytesIn = in.readLong();
        call.parts = in.readLong();
        call.responseSum = in.readLong();
        call.answeredBytes = in.readLong();
        call.inPieces = in.readLong();
        call.lookedInto.calls = in.readLong();
        call.lookedInto.asked = in.readLong();
        call.lookedInto.answered = in.readLong();
        for (int i = 0; i < call.failed.length; i++) {
            call.failed[i] = in.readLong();
        }
        int statuses = in.readInt();
        for (int i = 0; i < statuses; i++) {
            call.statuses.put(in.readUTF(), in.readLong());
        }
        if (in.readBoolean()) {
            read(in, call.response());
            read(in, call.raw());
            read(in, call.service());
            read(in, call.late());
        }
        if (call.parts > 0) {
            read(in, call.first());
            read(in, call.gap());
        }
    }

    private static void read(DataInputStream in, IntCountsHistogram into) throws IOException {
        int length = in.readInt();
        if (length > 0) {
            byte[] bytes = in.readNBytes(length);
            into.add(IntCountsHistogram.decodeFromByteBuffer(ByteBuffer.wrap(bytes), 0));
        }
    }
}
