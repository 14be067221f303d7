package kadrem.load.drive;

import java.util.List;
import java.util.Map;

/**
 * Something that a field of a call may be.
 *
 * @param text what the field becomes
 * @param beside what other fields of the call may begin with then, by their names
 */
public record Offer(String text, Map<String, String> beside) {
    public Offer {
        beside = Map.copyOf(beside);
    }

    /** Offers that fill no other fields. */
    public static List<Offer> of(List<String> texts) {
        return texts.stream().map(text -> new Offer(text, Map.of())).toList();
    }
}
