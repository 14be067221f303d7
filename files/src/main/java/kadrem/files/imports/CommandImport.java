package kadrem.files.imports;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Reads {@code curl} command lines, as browsers and handbooks give them: one or several, each with all its addresses. */
public final class CommandImport {
    private final ShellWords.Command command;
    private final List<FoundCall> calls;
    private final Map<String, Object> candidate;
    private final Set<String> notes;

    private CommandImport(ShellWords.Command command, List<FoundCall> calls, Map<String, Object> candidate,
            Set<String> notes) {
        this.command = command;
        this.calls = calls;
        this.candidate = candidate;
        this.notes = notes;
    }

    /** @throws ImportException if there is no such command, or one that cannot be taken over whole; the message says what is in the way */
    public static Imported read(String text) throws ImportException {
        var calls = new ArrayList<FoundCall>();
        Map<String, Object> candidate = new LinkedHashMap<>();
        Set<String> notes = new LinkedHashSet<>();
        List<ShellWords.Command> commands = ShellWords.commands(text.strip());
        for (ShellWords.Command command : commands) {
            List<String> words = command.words();
            int first = words.getFirst().equals("$") && words.size() > 1 ? 1 : 0;
            if (words.get(first).replaceFirst("(?s).*/", "").equals("curl")) {
                new CommandImport(new ShellWords.Command(command.line(), command.piped(),
                        words.subList(first + 1, words.size())), calls, candidate, notes).read();
            } else if (command.piped()) {
                notes.add("what " + words.get(first) + " did with the answer was passed over");
            } else {
                throw new ImportException("Line " + command.line() + " is no curl command: it begins with \""
                        + words.get(first) + "\".");
            }
        }
        if (calls.isEmpty()) {
            throw new ImportException("This is no curl command: it is empty.");
        }
        return Imported.of("pasted", calls, Map.of(), List.copyOf(notes), candidate);
    }

    private void read() throws ImportException {
        var request = new CurlRequest(calls, candidate, notes);
        List<String> words = command.words();
        boolean onlyAddresses = false;
        for (int i = 0; i < words.size(); i++) {
            String word = words.get(i);
            if (onlyAddresses || !word.startsWith("-") || word.equals("-")) {
                request.address(word);
            } else if (word.equals("--")) {
                onlyAddresses = true;
            } else if (word.equals("--next") || word.equals("-:")) {
                request.end(command.line());
                request = new CurlRequest(calls, candidate, notes);
            } else if (word.startsWith("--")) {
                i = longOption(request, i);
            } else {
                i = letters(request, i);
            }
        }
        request.end(command.line());
    }

    /** {@code --request=POST} is {@code --request POST}. @return the place of the last word that belongs to it */
    private int longOption(CurlRequest request, int at) throws ImportException {
        String word = command.words().get(at);
        int equals = word.indexOf('=');
        String name = equals < 0 ? word : word.substring(0, equals);
        CurlOption option = CurlOption.named(name).orElseThrow(() -> unknown(name));
        if (!option.takesValue()) {
            request.take(option, "", command.line());
            return at;
        }
        int last = equals < 0 ? at + 1 : at;
        request.take(option, equals < 0 ? value(last, name) : word.substring(equals + 1), command.line());
        return last;
    }

    /** {@code -sSXPOST} is {@code -s -S -X POST}. @return the place of the last word that belongs to it */
    private int letters(CurlRequest request, int at) throws ImportException {
        String word = command.words().get(at);
        for (int i = 1; i < word.length(); i++) {
            String letter = word.substring(i, i + 1);
            CurlOption option = CurlOption.lettered(letter).orElseThrow(() -> unknown("-" + letter));
            if (option.takesValue()) {
                boolean attached = i + 1 < word.length();
                request.take(option, attached ? word.substring(i + 1) : value(at + 1, "-" + letter), command.line());
                return attached ? at : at + 1;
            }
            request.take(option, "", command.line());
        }
        return at;
    }

    private String value(int at, String option) throws ImportException {
        if (at >= command.words().size()) {
            throw new ImportException("The option " + option + " has no value; is the command complete?");
        }
        return command.words().get(at);
    }

    private ImportException unknown(String option) {
        return new ImportException("Line " + command.line() + ": the option " + option
                + " is not known here. If what is sent does not depend on it, take it out.");
    }

    /** As curl 8 encodes it: everything but the unreserved characters of RFC 3986, section 2.3, and a plus for a space. */
    static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("*", "%2A").replace("%7E", "~");
    }

    /** {@code content}, {@code =content} and {@code name=content}. */
    static String encodedPair(String value) {
        int at = value.indexOf('=');
        String name = at < 0 ? "" : value.substring(0, at);
        String text = encoded(at < 0 ? value : value.substring(at + 1));
        return name.isEmpty() ? text : name + "=" + text;
    }
}
