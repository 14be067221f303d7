package kadrem.desk.run;

import java.util.List;

import javafx.scene.Node;
import javafx.scene.layout.VBox;
import kadrem.core.examine.Signature;

/** What a practitioner would say on seeing a record: what was found, why it comes about, and what to try. */
public final class SignatureNotes {
    private SignatureNotes() {
    }

    /** A block for each. */
    public static List<Node> of(List<Signature> signatures) {
        return of("", signatures);
    }

    /** @param who whose they are, before each; empty where that is clear */
    public static List<Node> of(String who, List<Signature> signatures) {
        return signatures.stream().map(one -> block(who, one)).toList();
    }

    private static Node block(String who, Signature signature) {
        String found = who.isEmpty() ? signature.found() : who + ": " + signature.found();
        var block = new VBox(1, RunStory.words(found + ".", "signature-found"),
                RunStory.words(signature.kind().reason() + ".", "fact"),
                RunStory.words("To try: " + signature.kind().advice() + ".", "fact"));
        block.getStyleClass().add("signature");
        block.setId("signature-" + signature.kind().id());
        return block;
    }
}
