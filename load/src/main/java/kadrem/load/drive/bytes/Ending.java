package kadrem.load.drive.bytes;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import kadrem.load.content.UnusableCall;

/** How an answer ends. */
sealed interface Ending {
    /** Whether the first {@code length} bytes are a whole answer. */
    boolean isWhole(byte[] bytes, int length);

    /** After a number of bytes. */
    record AtLength(int bytes) implements Ending {
        @Override
        public boolean isWhole(byte[] some, int length) {
            return length >= bytes;
        }
    }

    /** With these bytes. */
    record WithDelimiter(byte[] delimiter) implements Ending {
        @Override
        public boolean isWhole(byte[] some, int length) {
            if (length < delimiter.length) {
                return false;
            }
            for (int i = 0; i < delimiter.length; i++) {
                if (some[length - delimiter.length + i] != delimiter[i]) {
                    return false;
                }
            }
            return true;
        }
    }

    /** As soon as a pattern is found in it. */
    record AtPattern(Pattern pattern) implements Ending {
        @Override
        public boolean isWhole(byte[] some, int length) {
            return pattern.matcher(new String(some, 0, length, StandardCharsets.UTF_8)).find();
        }
    }

    /** When the other side closes; of UDP: with the first datagram. */
    record AtClose() implements Ending {
        @Override
        public boolean isWhole(byte[] some, int length) {
            return false;
        }
    }

    /** @throws UnusableCall if the text is none of the ways to end */
    static Ending of(String text) throws UnusableCall {
        String way = text.isEmpty() ? "\\n" : text;
        if (way.strip().equals("close")) {
            return new AtClose();
        }
        if (way.strip().matches("\\d{1,9}( bytes?)?")) {
            return new AtLength(Integer.parseInt(way.strip().split(" ")[0]));
        }
        if (way.length() > 2 && way.startsWith("/") && way.endsWith("/")) {
            try {
                return new AtPattern(Pattern.compile(way.substring(1, way.length() - 1)));
            } catch (PatternSyntaxException cause) {
                throw new UnusableCall("ends at a pattern that cannot be read: " + cause.getDescription());
            }
        }
        return new WithDelimiter(unescaped(way.getBytes(StandardCharsets.UTF_8)));
    }

    /** {@code \n}, {@code \r}, {@code \t}, {@code \0}, {@code \\} and {@code \xHH} as the bytes that they stand for. */
    static byte[] unescaped(byte[] text) {
        var out = new ByteArrayOutputStream(text.length);
        for (int i = 0; i < text.length; i++) {
            if (text[i] != '\\' || i + 1 == text.length) {
                out.write(text[i]);
                continue;
            }
            byte next = text[++i];
            switch (next) {
                case 'n' -> out.write('\n');
                case 'r' -> out.write('\r');
                case 't' -> out.write('\t');
                case '0' -> out.write(0);
                case 'x' -> {
                    if (i + 2 <= text.length - 1 && Character.digit(text[i + 1], 16) >= 0
                            && Character.digit(text[i + 2], 16) >= 0) {
                        out.write(Character.digit(text[i + 1], 16) << 4 | Character.digit(text[i + 2], 16));
                        i += 2;
                    } else {
                        out.write(next);
                    }
                }
                default -> out.write(next);
            }
        }
        return out.toByteArray();
    }
}
