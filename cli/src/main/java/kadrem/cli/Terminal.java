package kadrem.cli;

import java.io.Console;
import java.io.FilterWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.PrintWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

import kadrem.core.gate.Shown;

/**
 * What is printed. Names, answers and output of others go through it, so that nothing a terminal would obey comes out; only
 * {@link #again} moves its cursor.
 */
final class Terminal extends PrintWriter {
    private static final String BEGINNING_OF_AN_EMPTY_LINE = "\r\033[2K";

    private final Writer plain;

    private Terminal(Writer plain) {
        super(new Shower(plain), true);
        this.plain = plain;
    }

    static Terminal on(OutputStream stream) {
        return new Terminal(new OutputStreamWriter(stream, StandardCharsets.UTF_8));
    }

    static Terminal on(Writer writer) {
        return new Terminal(writer);
    }

    /** The terminal before which somebody sits; empty where a file or another program is written to. */
    static Optional<Console> watched() {
        return Optional.ofNullable(System.console()).filter(Console::isTerminal);
    }

    /** Goes back to the beginning of the line and empties it. */
    static void again(PrintWriter out) {
        out.flush();
        if (out instanceof Terminal terminal) {
            try {
                terminal.plain.write(BEGINNING_OF_AN_EMPTY_LINE);
                terminal.plain.flush();
            } catch (IOException cause) {
                throw new UncheckedIOException("the terminal cannot be written", cause);
            }
        }
    }

    private static final class Shower extends FilterWriter {
        Shower(Writer to) {
            super(to);
        }

        @Override
        public void write(int c) throws IOException {
            write(Character.toString((char) c), 0, 1);
        }

        @Override
        public void write(char[] text, int from, int length) throws IOException {
            write(new String(text, from, length), 0, length);
        }

        @Override
        public void write(String text, int from, int length) throws IOException {
            out.write(Shown.text(text.substring(from, from + length)));
        }
    }
}
