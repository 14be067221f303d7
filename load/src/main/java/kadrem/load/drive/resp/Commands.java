package kadrem.load.drive.resp;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufAllocator;
import io.netty.buffer.Unpooled;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Piece;
import kadrem.load.content.UnusableCall;

/**
 * The commands of a call compiled to words of pieces. A command is an array of bulk strings. Source: "Redis serialization
 * protocol specification", section "Sending commands to a Redis server".
 */
final class Commands {
    private static final int CRLF = '\r' << 8 | '\n';

    private final List<List<List<Piece>>> commands = new ArrayList<>();
    private final String values;
    private final List<Piece> channel;

    private Commands(String values, List<Piece> channel) {
        this.values = values;
        this.channel = channel;
    }

    static Commands of(Call call, DriverOrder order) throws UnusableCall {
        Form form = call.form(RespProtocol.ID)
                .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in resp"));
        var compiled = new Commands(form.text("values").isEmpty() ? "text" : form.text("values"),
                order.slots().pieces(form.text("subscribe").strip(), Commands::utf8));
        for (String command : form.texts("commands")) {
            var words = new ArrayList<List<Piece>>();
            for (String word : words(command)) {
                words.add(order.slots().pieces(word, Commands::utf8));
            }
            compiled.commands.add(List.copyOf(words));
        }
        return compiled;
    }

    private static byte[] utf8(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    /** The words of a command: parted by blanks, or within single or double quotes; a backslash takes the next as it is. */
    static List<String> words(String command) throws UnusableCall {
        var words = new ArrayList<String>();
        var word = new StringBuilder();
        char quote = 0;
        boolean begun = false;
        boolean inSlot = false;
        for (int i = 0; i < command.length(); i++) {
            char c = command.charAt(i);
            inSlot = command.startsWith("{{", i) || inSlot && !command.startsWith("}}", i - 2);
            if (quote == 0 && !inSlot && Character.isWhitespace(c)) {
                if (begun) {
                    words.add(word.toString());
                    word.setLength(0);
                    begun = false;
                }
            } else if (quote == 0 && (c == '"' || c == '\'')) {
                quote = c;
                begun = true;
            } else if (c == quote) {
                quote = 0;
            } else {
                if (c == '\\' && quote != 0 && i + 1 < command.length()) {
                    i++;
                }
                word.append(command.charAt(i));
                begun = true;
            }
        }
        if (quote != 0) {
            throw new UnusableCall("has a command with a quote that is not closed: " + command);
        }
        if (begun) {
            words.add(word.toString());
        }
        return List.copyOf(words);
    }

    /** A command of plain words, to be released by the one who sends it. */
    static ByteBuf plain(String... words) {
        ByteBuf out = Unpooled.buffer();
        head(out, '*', words.length);
        for (String word : words) {
            byte[] bytes = utf8(word);
            head(out, '$', bytes.length);
            out.writeBytes(bytes).writeShort(CRLF);
        }
        return out;
    }

    private static void head(ByteBuf out, char kind, int number) {
        out.writeByte(kind);
        Piece.writeNumber(out, number);
        out.writeShort(CRLF);
    }

    int count() {
        return commands.size();
    }

    /** How values are read: text, json or pairs. */
    String values() {
        return values;
    }

    /** The channel whose message ends the call; empty where replies do. */
    String channel(CallValues drawn) {
        return text(channel, drawn, false);
    }

    ByteBuf render(ByteBufAllocator allocator, CallValues drawn) {
        ByteBuf out = allocator.directBuffer(256);
        for (int c = 0; c < commands.size(); c++) {
            List<List<Piece>> words = commands.get(c);
            head(out, '*', words.size());
            for (int w = 0; w < words.size(); w++) {
                List<Piece> word = words.get(w);
                int length = 0;
                for (int p = 0; p < word.size(); p++) {
                    length += word.get(p).length(drawn);
                }
                head(out, '$', length);
                for (int p = 0; p < word.size(); p++) {
                    word.get(p).writeTo(out, drawn);
                }
                out.writeShort(CRLF);
            }
        }
        return out;
    }

    /** The commands as people write them, without secrets. */
    String shown(CallValues drawn) {
        var shown = new StringBuilder();
        for (List<List<Piece>> words : commands) {
            shown.append(shown.isEmpty() ? "" : "\n");
            for (int w = 0; w < words.size(); w++) {
                String text = text(words.get(w), drawn, true);
                boolean plain = !text.isEmpty() && text.chars().noneMatch(c -> c <= ' ' || c == '"' || c == '\'');
                shown.append(w == 0 ? "" : " ")
                        .append(plain ? text : "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"") + "\"");
            }
        }
        return shown.toString();
    }

    private static String text(List<Piece> pieces, CallValues drawn, boolean masked) {
        ByteBuf out = Unpooled.buffer();
        for (Piece piece : pieces) {
            if (masked && piece instanceof Piece.Secret secret) {
                out.writeCharSequence(secret.shown(), StandardCharsets.UTF_8);
            } else {
                piece.writeTo(out, drawn);
            }
        }
        return out.toString(StandardCharsets.UTF_8);
    }
}
