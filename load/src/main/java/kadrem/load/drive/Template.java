package kadrem.load.drive;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.function.Function;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import kadrem.core.study.Body;
import kadrem.load.content.UnusableCall;

/** A text whose values are filled in for each call, for drivers whose clients want texts. */
public final class Template {
    /** No text. */
    public static final Template NONE = new Template(List.of());

    private final List<Piece> pieces;

    private Template(List<Piece> pieces) {
        this.pieces = pieces;
    }

    /**
     * Compiles {@code text}.
     *
     * @param kind by which values are written as their place asks
     * @throws UnusableCall if a placeholder means nothing, or a secret is missing
     */
    public static Template of(Slots slots, Body.Kind kind, String text) throws UnusableCall {
        return new Template(slots.text(kind, text));
    }

    /**
     * Compiles {@code text}.
     *
     * @param encode how each value is written
     * @throws UnusableCall if a placeholder means nothing, or a secret is missing
     */
    public static Template of(Slots slots, Function<String, byte[]> encode, String text) throws UnusableCall {
        return new Template(slots.pieces(text, encode));
    }

    /** The text for a call. */
    public String fill(CallValues values) {
        return text(values, false);
    }

    /** The text for a call, with what stands for a secret in its place. */
    public String shown(CallValues values) {
        return text(values, true);
    }

    private String text(CallValues values, boolean masked) {
        if (pieces.size() == 1 && pieces.getFirst() instanceof Piece.Text(byte[] bytes)) {
            return new String(bytes, StandardCharsets.UTF_8);
        }
        ByteBuf out = Unpooled.buffer();
        for (Piece piece : pieces) {
            if (masked && piece instanceof Piece.Secret secret) {
                out.writeCharSequence(secret.shown(), StandardCharsets.UTF_8);
            } else {
                piece.writeTo(out, values);
            }
        }
        return out.toString(StandardCharsets.UTF_8);
    }
}
