package kadrem.load.drive;

import java.nio.charset.StandardCharsets;
import java.util.function.Function;
import java.util.function.Supplier;

import io.netty.buffer.ByteBuf;
import kadrem.core.study.ValueList;

/** A part of a compiled template: constant bytes, or the place of a value. */
public interface Piece {
    void writeTo(ByteBuf out, CallValues values);

    int length(CallValues values);

    static Piece text(String text) {
        return new Text(text.getBytes(StandardCharsets.UTF_8));
    }

    record Text(byte[] bytes) implements Piece {
        @Override
        public void writeTo(ByteBuf out, CallValues values) {
            out.writeBytes(bytes);
        }

        @Override
        public int length(CallValues values) {
            return bytes.length;
        }
    }

    /** @param shown stands in its place where people read */
    record Secret(byte[] bytes, String shown) implements Piece {
        @Override
        public void writeTo(ByteBuf out, CallValues values) {
            out.writeBytes(bytes);
        }

        @Override
        public int length(CallValues values) {
            return bytes.length;
        }
    }

    /** Bytes that are asked for each time; they may change between length and writing only in a head. */
    record Changing(Supplier<byte[]> bytes, String shown) implements Piece {
        @Override
        public void writeTo(ByteBuf out, CallValues values) {
            out.writeBytes(bytes.get());
        }

        @Override
        public int length(CallValues values) {
            return bytes.get().length;
        }
    }

    record NumberSlot(int list, long from) implements Piece {
        @Override
        public void writeTo(ByteBuf out, CallValues values) {
            writeNumber(out, from + values.draw().row(list));
        }

        @Override
        public int length(CallValues values) {
            return digits(from + values.draw().row(list));
        }
    }

    record ListSlot(int list, byte[][] rows) implements Piece {
        @Override
        public void writeTo(ByteBuf out, CallValues values) {
            out.writeBytes(rows[(int) values.draw().row(list)]);
        }

        @Override
        public int length(CallValues values) {
            return rows[(int) values.draw().row(list)].length;
        }
    }

    /** A value that is made when it is asked for. */
    record MadeSlot(int list, ValueList values, Function<String, byte[]> encode) implements Piece {
        private byte[] bytes(CallValues drawn) {
            return encode.apply(values.text(drawn.draw().row(list)));
        }

        @Override
        public void writeTo(ByteBuf out, CallValues drawn) {
            out.writeBytes(bytes(drawn));
        }

        @Override
        public int length(CallValues drawn) {
            return bytes(drawn).length;
        }
    }

    record CapturedSlot(int captured, Function<String, byte[]> encode) implements Piece {
        private byte[] bytes(CallValues values) {
            return encode.apply(new String(values.captured()[captured], StandardCharsets.UTF_8));
        }

        @Override
        public void writeTo(ByteBuf out, CallValues values) {
            out.writeBytes(bytes(values));
        }

        @Override
        public int length(CallValues values) {
            return bytes(values).length;
        }
    }

    /** Writes {@code number} in decimal digits. */
    static void writeNumber(ByteBuf out, long number) {
        if (number < 0) {
            out.writeByte('-');
            number = -number;
        }
        long unit = 1;
        while (number / unit >= 10) {
            unit *= 10;
        }
        for (; unit > 0; unit /= 10) {
            out.writeByte((byte) ('0' + number / unit % 10));
        }
    }

    private static int digits(long number) {
        int digits = number < 0 ? 2 : 1;
        for (long rest = Math.abs(number); rest >= 10; rest /= 10) {
            digits++;
        }
        return digits;
    }
}
