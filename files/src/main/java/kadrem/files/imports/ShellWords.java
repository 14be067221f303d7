package kadrem.files.imports;

import java.util.ArrayList;
import java.util.List;

/**
 * Commands as a POSIX shell would make them of a text (IEEE Std 1003.1, Shell Command Language, section 2): quotes, backslashes, continued
 * lines, comments, and bash's {@code $'…'}. What only a shell knows, such as the value of a variable, is told.
 */
final class ShellWords {
    /**
     * A command.
     *
     * @param line in which it begins, from 1
     * @param piped whether it is given what the command before it wrote
     */
    record Command(int line, boolean piped, List<String> words) {
    }

    private final String text;
    private final List<Command> commands = new ArrayList<>();
    private final List<String> words = new ArrayList<>();
    private final StringBuilder word = new StringBuilder();
    private boolean inWord;
    private boolean piped;
    /** Whether the next word is the file of a redirection. */
    private boolean passesOver;
    private int begun = 1;
    private int line = 1;
    private int at;

    private ShellWords(String text) {
        this.text = text;
    }

    /** @throws ImportException if a quote is not closed, or a value is used that only a shell knows */
    static List<Command> commands(String text) throws ImportException {
        var reading = new ShellWords(text);
        reading.read();
        return reading.commands;
    }

    private void read() throws ImportException {
        while (at < text.length()) {
            char c = text.charAt(at);
            if (c == '\n') {
                endCommand(false);
                line++;
                at++;
            } else if (Character.isWhitespace(c)) {
                endWord();
                at++;
            } else if (c == '#' && !inWord) {
                at = text.indexOf('\n', at) < 0 ? text.length() : text.indexOf('\n', at);
            } else if (c == ';' || c == '|' || c == '&' && isOperator()) {
                boolean pipe = c == '|' && !text.startsWith("||", at);
                at += text.startsWith("&&", at) || text.startsWith("||", at) ? 2 : 1;
                endCommand(pipe);
            } else if (c == '<' || c == '>') {
                redirection();
            } else {
                piece(c);
            }
        }
        endCommand(false);
    }

    /** Where what is written goes to changes nothing of what is sent: it is passed over, with the file that it names. */
    private void redirection() {
        if (word.toString().matches("[012&]?")) {
            word.setLength(0);
            inWord = false;
        }
        endWord();
        while (at < text.length() && "<>".indexOf(text.charAt(at)) >= 0) {
            at++;
        }
        if (at < text.length() && text.charAt(at) == '&') {
            at += 2;
        } else {
            passesOver = true;
        }
    }

    /** An address that was pasted without quotes has such signs too. */
    private boolean isOperator() {
        return text.startsWith("&&", at) || at + 1 >= text.length() || Character.isWhitespace(text.charAt(at + 1));
    }

    private void piece(char c) throws ImportException {
        if (c == '\\' && (text.startsWith("\n", at + 1) || text.startsWith("\r\n", at + 1))) {
            at += text.startsWith("\r\n", at + 1) ? 3 : 2;
            line++;
            return;
        }
        if (!inWord && words.isEmpty()) {
            begun = line;
        }
        inWord = true;
        if (c == '\'') {
            int end = text.indexOf('\'', at + 1);
            if (end < 0) {
                throw open();
            }
            append(text.substring(at + 1, end));
            at = end + 1;
        } else if (c == '"') {
            at++;
            quoted();
        } else if (text.startsWith("$'", at)) {
            at += 2;
            escaped();
        } else if (c == '\\' && at + 1 < text.length()) {
            append(text.substring(at + 1, at + 2));
            at += 2;
        } else {
            noExpansion(c);
            append(String.valueOf(c));
            at++;
        }
    }

    private void append(String piece) {
        word.append(piece);
        line += (int) piece.chars().filter(c -> c == '\n').count();
    }

    private ImportException open() {
        return new ImportException("A quote is not closed; is the command complete?");
    }

    /** Up to the closing double quote. */
    private void quoted() throws ImportException {
        while (at < text.length() && text.charAt(at) != '"') {
            char c = text.charAt(at);
            if (c == '\\' && at + 1 < text.length()) {
                char next = text.charAt(at + 1);
                append(next == '\n' ? "" : "\\\"$`".indexOf(next) >= 0 ? String.valueOf(next) : "\\" + next);
                at += 2;
            } else {
                noExpansion(c);
                append(String.valueOf(c));
                at++;
            }
        }
        if (at >= text.length()) {
            throw open();
        }
        at++;
    }

    private void noExpansion(char c) throws ImportException {
        boolean variable = c == '$' && at + 1 < text.length()
                && (Character.isLetter(text.charAt(at + 1)) || "_{(".indexOf(text.charAt(at + 1)) >= 0);
        if (variable || c == '`') {
            String used = text.substring(at, Math.min(text.length(), at + 24)).split("[\\s\"']", 2)[0];
            throw new ImportException("Line " + line + " uses " + used + ", whose value only the shell knows that it"
                    + " was written for. Write the value; what looks like a secret does not get into the study.");
        }
    }

    /** Up to the closing quote of bash's {@code $'…'}. */
    private void escaped() throws ImportException {
        while (at < text.length() && text.charAt(at) != '\'') {
            char c = text.charAt(at);
            if (c != '\\' || at + 1 >= text.length()) {
                append(String.valueOf(c));
                at++;
                continue;
            }
            char letter = text.charAt(at + 1);
            at += 2;
            switch (letter) {
                case 'n' -> word.append('\n');
                case 't' -> word.append('\t');
                case 'r' -> word.append('\r');
                case 'u' -> {
                    String digits = text.substring(at, Math.min(at + 4, text.length()));
                    boolean hexadecimal = digits.matches("[0-9a-fA-F]{4}");
                    append(hexadecimal ? String.valueOf((char) Integer.parseInt(digits, 16)) : "\\u");
                    at += hexadecimal ? 4 : 0;
                }
                default -> append(String.valueOf(letter));
            }
        }
        if (at >= text.length()) {
            throw open();
        }
        at++;
    }

    private void endWord() {
        if (inWord) {
            if (!passesOver) {
                words.add(word.toString());
            }
            passesOver = false;
            word.setLength(0);
            inWord = false;
        }
    }

    /** @param pipes whether the next one is given what this one writes */
    private void endCommand(boolean pipes) {
        endWord();
        passesOver = false;
        if (!words.isEmpty()) {
            commands.add(new Command(begun, piped, List.copyOf(words)));
            words.clear();
        }
        piped = pipes;
    }
}
