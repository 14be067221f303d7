package kadrem.load.drive;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.SecretReference;
import kadrem.core.study.ValueList;
import kadrem.core.study.Workload;
import kadrem.load.content.UnusableCall;

/** Compiles templates to pieces, with a slot where a value of the workload or a secret stands. */
public record Slots(Workload workload, Secrets secrets) {

    /**
     * The pieces of a template.
     *
     * @param encode how each value is written
     * @throws UnusableCall if a placeholder means nothing, or a secret is missing
     */
    public List<Piece> pieces(String template, Function<String, byte[]> encode) throws UnusableCall {
        var pieces = new ArrayList<Piece>();
        List<String> parts = Call.split(template);
        for (int i = 0; i < parts.size(); i++) {
            if (i % 2 == 1) {
                pieces.add(slot(parts.get(i), encode));
            } else if (!parts.get(i).isEmpty()) {
                pieces.add(Piece.text(parts.get(i)));
            }
        }
        return List.copyOf(pieces);
    }

    /** The piece that stands for a placeholder. */
    public Piece slot(String name, Function<String, byte[]> encode) throws UnusableCall {
        for (int list = 0; list < workload.values().size(); list++) {
            if (workload.values().get(list).name().equals(name)) {
                return slot(workload.values().get(list), list, encode);
            }
        }
        int captured = workload.capturedNames().indexOf(name);
        if (captured >= 0) {
            return new Piece.CapturedSlot(captured, encode);
        }
        if (SecretReference.isOne(name)) {
            SecretReference reference = SecretReference.parse(name);
            return new Piece.Secret(encode.apply(secrets.resolve(reference)), "(secret " + reference + ")");
        }
        throw new UnusableCall("{{" + name + "}} is neither a value list nor a captured value");
    }

    private static Piece slot(ValueList list, int number, Function<String, byte[]> encode) {
        return switch (list) {
            case ValueList.NumberRange range -> new Piece.NumberSlot(number, range.from());
            case ValueList.Zipf zipf -> new Piece.NumberSlot(number, zipf.from());
            case ValueList.Listed listed -> new Piece.ListSlot(number,
                    listed.rows().stream().map(encode).toArray(byte[][]::new));
            case ValueList.Uuid _,ValueList.Text _,ValueList.Timestamp _ ->
                new Piece.MadeSlot(number, list, encode);
        };
    }

    /** Each value as its place asks: inside a JSON string, inside XML text, or as it is. */
    public List<Piece> text(Body.Kind kind, String template) throws UnusableCall {
        var pieces = new ArrayList<Piece>();
        var place = new BodyPlace(kind);
        List<String> parts = Call.split(template);
        for (int i = 0; i < parts.size(); i++) {
            if (i % 2 == 1) {
                pieces.add(slot(parts.get(i), place.encoding()));
            } else if (!parts.get(i).isEmpty()) {
                place.pass(parts.get(i));
                pieces.add(Piece.text(parts.get(i)));
            }
        }
        return List.copyOf(pieces);
    }
}
