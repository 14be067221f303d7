package kadrem.core.study;

import java.util.Arrays;
import java.util.HexFormat;

/** Bytes that do not change. */
public final class Bytes {
    private final byte[] bytes;

    private Bytes(byte[] bytes) {
        this.bytes = bytes;
    }

    public static Bytes of(byte[] bytes) {
        return new Bytes(bytes.clone());
    }

    public int size() {
        return bytes.length;
    }

    /** A copy. */
    public byte[] toArray() {
        return bytes.clone();
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Bytes that && Arrays.equals(bytes, that.bytes);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(bytes);
    }

    /** All bytes as hexadecimal digits. */
    @Override
    public String toString() {
        return HexFormat.of().formatHex(bytes);
    }
}
